import { expect, test } from '@playwright/test';
import { architectureIfc } from '../../src/demo/library/architecture';
import { structureIfc } from '../../src/demo/library/structure';
import { expectNoViolations, modelArrived, newProject, signIn } from './steps';

const ifc = () => ({ name: 'frame-P01.ifc', mimeType: 'application/x-step', buffer: Buffer.from(structureIfc()) });

test('a designer publishes a file, then its next revision, and sees both', async ({ page }) => {
  await signIn(page);
  const project = await newProject(page, 'Publishing test');
  await page.getByLabel('Model files').setInputFiles(ifc());
  await page.getByLabel('Note: what is new?').fill('First frame');
  await page.getByLabel('Discipline').selectOption('Structure');
  await page.getByRole('button', { name: 'Publish' }).click();
  const revisions = page.getByRole('list', { name: /Revisions of/ });
  await expect(revisions.getByText('P01', { exact: true })).toBeVisible({ timeout: 40_000 });
  await expect(revisions.getByText(/345 elements/)).toBeVisible();
  await expect(revisions.getByText('First frame')).toBeVisible();

  await page.getByLabel('Model files').setInputFiles({ ...ifc(), name: 'frame-P02.ifc' });
  await expect(page.getByLabel('Publish as')).toHaveValue(/[0-9a-f-]{36}/);
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(revisions.getByText('P02', { exact: true })).toBeVisible({ timeout: 40_000 });
  await page.getByText('Light enough for phone, laptop and headset').first().click();
  const forecast = page.getByRole('table', { name: 'What devices will have to carry' }).first();
  await expect(forecast.getByRole('row', { name: /headset .* full/ })).toBeVisible();
  await expectNoViolations(page);

  await page.goto(`/projects/${project}/review`);
  await modelArrived(page);
  await page.getByRole('button', { name: 'Contents' }).click();
  await expect(page.getByRole('region', { name: 'Contents' }).getByText('P02').first()).toBeVisible();
});

test('a revision is taken back, an older one opened and made the newest again', async ({ page }) => {
  await signIn(page);
  await newProject(page, 'Second and third thoughts');
  for (const note of ['First', 'Second']) {
    await page.getByLabel('Model files').setInputFiles(ifc());
    await page.getByLabel('Note: what is new?').fill(note);
    await page.getByRole('button', { name: 'Publish' }).click();
    await expect(page.getByRole('list', { name: /Revisions of/ }).getByText(note)).toBeVisible();
    await expect(page.getByRole('progressbar')).toHaveCount(0, { timeout: 40_000 });
  }
  const present = page.getByRole('list', { name: /Revisions of/ });
  await expect(present.getByText('P02')).toBeVisible();
  await page.getByText('1 other revision').click();
  await page.getByRole('button', { name: 'Acts on P01' }).click();
  await page.getByRole('menuitem', { name: 'Open in Review' }).click();
  await page.waitForURL('**/review?revision=*');
  await modelArrived(page);
  await expect(page.getByText(/You see frame-P01 P01, an older revision; the newest is P02/)).toBeVisible();
  await page.getByRole('link', { name: 'Show the newest' }).click();
  await page.waitForURL(/review$/);
  await page.getByRole('link', { name: 'Prepare' }).click();
  await page.waitForURL('**/prepare');

  await page.getByRole('button', { name: 'Acts on P02' }).click();
  await page.getByRole('menuitem', { name: 'Withdraw' }).click();
  await expect(present.getByText('P01', { exact: true })).toBeVisible();
  await page.getByText('1 other revision').click();
  const history = page.getByRole('list', { name: /History of/ });
  await expect(history.getByText(/Withdrawn by Ines Okafor/)).toBeVisible();
  await expectNoViolations(page);
  await history.getByRole('button', { name: 'Acts on P02' }).click();
  await page.getByRole('menuitem', { name: 'Make it the newest again' }).click();
  await expect(present.getByText('P02 again: Second')).toBeVisible();
  await expect(present.getByText('P03')).toBeVisible();
});

test('a bad file is refused with its reason, kept, and harms nothing', async ({ page }) => {
  await signIn(page);
  await newProject(page, 'Bad files');
  await page.getByLabel('Model files').setInputFiles({
    name: 'cut-short.ifc',
    mimeType: 'application/x-step',
    buffer: Buffer.from(structureIfc().slice(0, 5000)),
  });
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText(/“cut-short.ifc” breaks off before its end/)).toBeVisible({ timeout: 40_000 });
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByText(/“cut-short.ifc” breaks off before its end/)).toBeVisible({ timeout: 40_000 });

  await page
    .getByLabel('Model files')
    .setInputFiles({ name: 'empty.ifc', mimeType: 'application/x-step', buffer: Buffer.alloc(0) });
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByText(/“empty.ifc” is empty/)).toBeVisible();
});

test('a publication can be stopped in the middle and tried again', async ({ page }) => {
  await signIn(page);
  await newProject(page, 'Second thoughts');
  await page.getByLabel('Model files').setInputFiles({
    name: 'library.ifc',
    mimeType: 'application/x-step',
    buffer: Buffer.from(architectureIfc(1)),
  });
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('button', { name: 'Stop' }).click({ timeout: 20_000 });
  await expect(page.getByText('Stopped by Ines Okafor. The file is kept')).toBeVisible();
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByText('P01', { exact: true })).toBeVisible({ timeout: 60_000 });
});

test('an upload that announces three gigabytes is refused before a byte is sent', async ({ page }) => {
  await signIn(page);
  const answer = await page.request.post('/uploads', {
    headers: {
      'Tus-Resumable': '1.0.0',
      'Upload-Length': String(3 * 1024 ** 3),
      'Upload-Metadata': `filename ${Buffer.from('huge.ifc').toString('base64')}`,
    },
  });
  expect(answer.status()).toBe(413);
  expect(await answer.text()).toContain('takes up to 2 048 MB');
});
