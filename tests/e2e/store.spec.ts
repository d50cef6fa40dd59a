import { expect, test, type Page } from '@playwright/test';
import { architectureIfc } from '../../src/demo/library/architecture';
import { structureIfc } from '../../src/demo/library/structure';
import { expectNoViolations, newProject, signIn } from './steps';

/** A person stores a file's next version on the store's own page. */
async function shelve(page: Page, store: string, name: string, content: string): Promise<void> {
  const [folder, chooser] = [page.getByLabel('Folder'), page.getByLabel('File', { exact: true })];
  await page.goto(store);
  await folder.fill('Town library/Site');
  await chooser.setInputFiles({ name, mimeType: 'application/x-step', buffer: Buffer.from(content) });
  await page.getByRole('button', { name: 'Store' }).click();
  await expect(page.getByRole('cell', { name: new RegExp(name) })).toBeVisible();
}

test('a designer connects a model store, follows a file, gets its next version and lets go', async ({
  page,
  context,
}) => {
  test.setTimeout(120_000);
  await signIn(page);
  const project = await newProject(page, 'From the cloud');
  const panel = page.getByRole('region', { name: 'Sample store' });
  await panel.getByRole('link', { name: 'Connect' }).click();
  const store = new URL(page.url()).origin;
  await page.getByRole('button', { name: 'Do not allow' }).click();
  await page.waitForURL(`**/projects/${project}/prepare?**`);
  await expect(panel.getByRole('alert')).toContainText('was not connected');

  const shelf = await context.newPage();
  await shelve(shelf, store, 'pavilion.ifc', structureIfc());
  await panel.getByRole('link', { name: 'Connect' }).click();
  await page.getByRole('button', { name: 'Allow', exact: true }).click();
  await page.waitForURL(`**/projects/${project}/prepare`);
  await expect(panel).toContainText('Connected as Ines Okafor');

  await panel.getByRole('button', { name: 'Choose a file' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Town library' }).click();
  await dialog.getByRole('button', { name: 'Site' }).click();
  await expectNoViolations(page);
  await dialog.getByRole('button', { name: /pavilion.ifc/ }).click();
  await expect(dialog.getByLabel('Publish as')).toHaveValue('new');
  await expect(dialog.getByLabel('Publish every new version by itself')).toBeChecked();
  await expectNoViolations(page);
  await dialog.getByRole('button', { name: 'Publish version 1' }).click();
  const source = panel.getByRole('listitem', { name: 'pavilion.ifc' });
  await expect(source).toContainText(/Version 1 of .*: published as P01/, { timeout: 40_000 });

  await shelve(shelf, store, 'pavilion.ifc', architectureIfc(1));
  await expect(source).toContainText(/Version 2 of .*: published as P02/, { timeout: 60_000 });
  await expect(page.getByRole('list', { name: 'Revisions of pavilion' })).toContainText(
    'Version 2 from Sample store, by Ines Okafor',
  );

  await source.getByText('new versions come by themselves').click();
  await expect(source).toContainText('only when you ask');
  await shelve(shelf, store, 'pavilion.ifc', structureIfc());
  await expect(source.getByRole('button', { name: 'Publish version 3' })).toBeVisible();
  await expect(source).toContainText('Version 3 is there');
  await expectNoViolations(page);

  await panel.getByRole('button', { name: 'Disconnect' }).click();
  await expect(panel.getByRole('link', { name: 'Connect' })).toBeVisible();
  await expect(source).toBeHidden();
  await expect(page.getByRole('list', { name: 'Revisions of pavilion' })).toContainText('P02');
});
