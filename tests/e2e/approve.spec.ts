import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { simpleParser } from 'mailparser';
import { DESIGNER, expectNoViolations, libraryId, openPage, signIn } from './steps';

const OUTBOX = '.yurta/e2e/outbox';

test.use({ viewport: { width: 1100, height: 760 } });

test('a revision is put up, a client without an account answers by a link, a designer too, and the feed tells', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const project = await libraryId(page);
  await openPage(page, `/projects/${project}/approvals`);
  await page.getByRole('button', { name: 'Put up a revision' }).click();
  const form = page.getByRole('region', { name: 'Put up a revision' });
  await form.getByLabel('Revision', { exact: true }).selectOption({ label: 'Structure P01' });
  await form.getByLabel('For what (ISO 19650)').selectOption('S3, for review and comment');
  await form.getByLabel('What is asked').fill('Does the frame suit you?');
  await form.getByRole('checkbox', { name: 'Mikko Karras' }).press('Space');
  const address = `client-${Date.now()}@lindenau.example`;
  await form.getByLabel('Others, by mail address').fill(address);
  await expectNoViolations(page);
  await form.getByRole('button', { name: 'Ask', exact: true }).click();
  const card = page.getByRole('listitem').filter({ hasText: 'Structure P01' }).first();
  await expect(card.getByText('Waiting for answers')).toBeVisible();

  // The client finds the link in the mail, gives a name, and answers.
  const link = await linkMailedTo(address);
  const client = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  await client.goto(link);
  await client.getByLabel('Your name').fill('Herta Lindqvist');
  await client.getByRole('button', { name: 'Come in' }).click();
  await client.waitForURL('**/approvals');
  const asked = client.getByRole('group', { name: 'Your answer on Structure P01' });
  await asked.getByRole('button', { name: 'Revise and resubmit' }).click();
  await expect(asked.getByRole('button', { name: 'Answer' })).toBeDisabled();
  await asked.getByLabel('Your reasons').fill('The columns stand in the children’s corner.');
  await expectNoViolations(client);
  await asked.getByRole('button', { name: 'Answer' }).click();
  await expect(client.getByText('The columns stand in the children’s corner.').first()).toBeVisible();
  await client.context().close();

  const theirs = await (await browser.newContext({ viewport: { width: 1100, height: 760 } })).newPage();
  await signIn(theirs, DESIGNER);
  await openPage(theirs, `/projects/${project}/approvals`);
  await expect(theirs.getByText('Revise and resubmit').first()).toBeVisible();
  const own = theirs.getByRole('group', { name: 'Your answer on Structure P01' });
  await own.getByRole('button', { name: 'Approved', exact: true }).click();
  await own.getByRole('button', { name: 'Answer' }).click();

  // A note of one's own, passed to a colleague, then shared with all.
  await openPage(theirs, `/projects/${project}/notes`);
  const noting = theirs.getByRole('button', { name: 'Note', exact: true });
  await theirs.getByLabel('New note').fill('Ask for softwood');
  await noting.click();
  const note = theirs.getByRole('listitem').filter({ hasText: 'Ask for softwood' });
  await note.getByRole('button', { name: 'Pass to …' }).click();
  await note.getByRole('checkbox', { name: 'Ines Okafor' }).press('Space');
  await expect(note.getByText(/passed to Ines Okafor/)).toBeVisible();
  await expectNoViolations(theirs);
  await openPage(page, `/projects/${project}/notes`);
  await expect(
    page.getByRole('listitem').filter({ hasText: 'Ask for softwood' }).getByText('from Mikko Karras'),
  ).toBeVisible();
  await note.getByRole('button', { name: 'Share with everybody' }).click();
  await expect(note.getByRole('link', { name: /Shared/ })).toBeVisible();
  await theirs.context().close();

  await openPage(page, `/projects/${project}/feed`);
  await expect(page.getByText(/Herta Lindqvist answered on approval Structure P01: revise and resubmit/)).toBeVisible();
  await page.getByLabel('Who').selectOption('Mikko Karras');
  await expect(page.getByText(/said Ask for softwood/)).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'Herta Lindqvist' })).toHaveCount(0);
  await expectNoViolations(page);
});

/** The link in the newest mail to an address, as the stand-in mail server keeps it. */
async function linkMailedTo(address: string): Promise<string> {
  let found = '';
  await expect(async () => {
    for (const name of (await readdir(OUTBOX)).filter((one) => one.endsWith('.eml'))) {
      const mail = await simpleParser(await readFile(join(OUTBOX, name)));
      if (mail.text?.includes('Structure P01') && JSON.stringify(mail.to).includes(address))
        found = /https?:\/\/[^/\s]+(\/l\/\S+)/.exec(mail.text)![1]!;
    }
    expect(found).not.toBe('');
  }).toPass({ timeout: 30_000 });
  return found;
}
