import { expect, test } from '@playwright/test';
import { architectureIfc } from '../../src/demo/library/architecture';
import { structureIfc } from '../../src/demo/library/structure';
import { expectNoViolations, newProject, signIn } from './steps';

test('who leaves the page hears of the end under the bell and by mail, and finds the job in the list', async ({
  page,
}) => {
  await signIn(page);
  await newProject(page, 'Away from the desk');
  const cut = (name: string) => ({
    name,
    mimeType: 'application/x-step',
    buffer: Buffer.from(structureIfc().slice(0, 3000)),
  });
  await page
    .getByLabel('Model files')
    .setInputFiles([
      cut('torn.ifc'),
      { name: 'kiosk.ifc', mimeType: 'application/x-step', buffer: Buffer.from(architectureIfc(1)) },
    ]);
  await page.getByRole('button', { name: 'Publish' }).click();
  // The larger file comes last, so that its end falls into the time after leaving.
  await expect(page.getByRole('list', { name: 'Revisions of kiosk' })).toBeVisible();
  await page.getByRole('button', { name: /Account of Ines/ }).click();
  await page.getByRole('menuitem', { name: 'Jobs' }).click();
  await page.waitForURL('**/jobs');

  const jobs = page.getByRole('table', { name: 'Jobs' });
  await expect(jobs.getByRole('row', { name: /kiosk P01/ })).toContainText('Published', { timeout: 40_000 });
  const torn = jobs.getByRole('row', { name: /torn.ifc/ });
  await expect(torn).toContainText('breaks off before its end', { timeout: 40_000 });
  await page.getByRole('button', { name: 'Failed' }).click();
  await expect(jobs.getByRole('row', { name: /kiosk/ })).toHaveCount(0);
  await expect(torn).toBeVisible();
  await expectNoViolations(page);
  await torn.getByRole('button', { name: 'Try torn.ifc again' }).click();
  // It may fail again before the list has shown that it ran: that it did, the second message below tells.
  await page.getByRole('button', { name: 'All' }).click();
  await expect(torn).toContainText('breaks off before its end', { timeout: 40_000 });

  await page.getByRole('button', { name: /Account of Ines/ }).click();
  await page.getByRole('menuitem', { name: 'Outbox' }).click();
  await page.waitForURL('**/outbox');
  // It is mailed because nobody has looked under the bell by then; that takes as long as the machine does.
  const mail = page.getByRole('button', { name: /Away from the desk: kiosk is published as P01/ });
  await expect(async () => {
    await page.reload();
    await expect(mail).toBeVisible({ timeout: 2000 });
  }).toPass({ timeout: 60_000 });
  await mail.click();
  await expect(page.getByRole('article', { name: 'The mail' })).toContainText('Hello Ines Okafor');
  await expectNoViolations(page);

  await page.getByRole('button', { name: /^Messages, \d+ new/ }).click();
  const messages = page.getByRole('dialog');
  await expect(messages.getByText('kiosk is published as P01.')).toBeVisible();
  // Once at first, and once when it was tried again.
  await expect(messages.getByText('torn: “torn.ifc” was not published.')).toHaveCount(2);
  await expectNoViolations(page);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Messages', exact: true })).toBeVisible();

  await page.getByRole('article', { name: 'The mail' }).getByRole('link').click();
  await page.waitForURL('**/prepare');
  await expect(page.getByRole('list', { name: 'Revisions of kiosk' })).toContainText('P01');
});
