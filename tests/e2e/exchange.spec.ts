import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { DESIGNER, expectNoViolations, libraryId, newProject, openPage, signIn } from './steps';

test.use({ viewport: { width: 1180, height: 760 } });

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAgAAAAIAQMAAAD+wSzIAAAABlBMVEX///+/v7+jQ3Y5AAAADklEQVQI12P4AIX8EAgALgAD/aNpbtEAAAAASUVORK5CYII',
  'base64',
);

test('what was said is answered with files, changed together, handed out, and brought into another project', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const project = await libraryId(page);
  await openPage(page, `/projects/${project}/follow-up`);
  const line = page.getByRole('button', { name: /^Comment 9: There has to be 80 cm/ });
  await line.click();
  await page.getByRole('button', { name: 'Answer', exact: true }).click();
  await page.getByLabel('Answer to comment 9').fill('@Mik');
  await page.getByRole('group', { name: 'Name somebody' }).getByRole('button', { name: '@Mikko Karras' }).click();
  await expect(page.getByLabel('Answer to comment 9')).toHaveValue('@Mikko Karras ');
  await page.getByLabel('Answer to comment 9').pressSequentially('see the sheet');
  await page.getByLabel('Pictures and files').setInputFiles([
    { name: 'tank.png', mimeType: 'image/png', buffer: PNG },
    { name: 'sheet.txt', mimeType: 'text/plain', buffer: Buffer.from('80 cm') },
  ]);
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByRole('link', { name: 'Picture tank.png' })).toBeVisible();
  await expect(page.getByRole('link', { name: /sheet\.txt/ })).toBeVisible();
  await expectNoViolations(page);

  // Several at once.
  await page.getByRole('checkbox', { name: 'Choose comment 7' }).press('Space');
  await page.getByRole('checkbox', { name: 'Choose comment 9' }).press('Space');
  const chosen = page.getByRole('group', { name: 'Those that are chosen' });
  await expect(chosen.getByText('2 chosen')).toBeVisible();
  await chosen.getByLabel('Status of all chosen').selectOption('In work');
  for (const number of [7, 9]) await expect(page.getByLabel(`Status of comment ${number}`)).toHaveValue('in-work');
  await expectNoViolations(page);
  await chosen.getByRole('button', { name: 'Choose none' }).click();

  // Out for another program, and into another project, after a look.
  await page.getByRole('button', { name: 'Hand out' }).click();
  const [bcf] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'All as BCF' }).click(),
  ]);
  const path = join(test.info().outputDir, 'all.bcf');
  await bcf.saveAs(path);
  for (const [file, start] of [
    ['xlsx', 'PK'],
    ['ics', 'BEGIN:VCALENDAR'],
  ] as const) {
    const answer = await page.request.get(`/api/projects/${project}/comments.${file}`);
    expect((await answer.body()).toString('latin1').startsWith(start)).toBe(true);
  }
  const other = await newProject(page, `Copy ${Date.now()}`);
  await openPage(page, `/projects/${other}/follow-up`);
  await page
    .getByLabel('BCF file')
    .setInputFiles({ name: 'no.bcf', mimeType: 'application/zip', buffer: Buffer.from('no') });
  await expect(page.getByText(/This is not a BCF file that can be read/)).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await page
    .getByLabel('BCF file')
    .setInputFiles({ name: 'all.bcf', mimeType: 'application/zip', buffer: await readFile(path) });
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText(/Nothing has been changed yet/)).toBeVisible();
  await expectNoViolations(page);
  await dialog.getByRole('button', { name: /^Take over \d+$/ }).click();
  const here = page.getByRole('button', { name: /^Comment \d+: There has to be 80 cm/ });
  await here.click();
  await expect(page.getByRole('link', { name: 'Picture tank.png' })).toBeVisible();

  // Whoever was named hears of it.
  const theirs = await (await browser.newContext()).newPage();
  await signIn(theirs, DESIGNER);
  await theirs.goto('/outbox');
  await expect(theirs.getByText('Town library: Ines Okafor names you').first()).toBeVisible({ timeout: 20_000 });
  await theirs.context().close();
});

test('the tracker hears of an action, answers, and both see it; what both change waits for somebody', async ({
  page,
  context,
}) => {
  await signIn(page);
  const project = await libraryId(page);
  await openPage(page, `/projects/${project}/programs`);
  await expectNoViolations(page);
  const section = page.getByRole('region', { name: 'Issue tracker' });
  const address = (await section.getByRole('link').getAttribute('href'))!;
  const tracker = await context.newPage();
  await tracker.goto(address);
  const issue = tracker.locator('article').filter({ hasText: 'Hang the lamps 30 cm lower' });
  await expect(issue.getByLabel('owner')).toHaveValue('sunniva@berg.example');
  await issue.getByLabel('state').selectOption('done');
  await issue.getByRole('button', { name: 'Save' }).click();
  await openPage(page, `/projects/${project}/follow-up`);
  await expect(page.getByLabel('Status of comment 6')).toHaveValue('closed');

  // Both at once: neither loses its own.
  const id = (await issue.getAttribute('id'))!.replace('issue-', '');
  const token = (await tracker.locator('#token').textContent())!;
  await Promise.all([
    page.request.patch(`/api/projects/${project}/comments`, {
      data: { ids: [await idOf(6)], change: { priority: 'low' } },
    }),
    page.request.patch(`${address}/issues/${id}`, {
      headers: { Authorization: `Bearer ${token}` },
      data: { urgency: 'normal' },
    }),
  ]);
  const line = page.getByRole('button', { name: /^Comment 6: Hang the lamps/ });
  await line.click();
  const conflict = page.getByRole('group', { name: 'Conflict of comment 6' });
  await expect(conflict.getByText('Priority: normal')).toBeVisible();
  await expectNoViolations(page);
  await conflict.getByRole('button', { name: 'Keep what stands here' }).click();
  await expect(conflict).toHaveCount(0);
  await expect(async () => {
    await tracker.reload();
    await expect(issue.getByLabel('urgency')).toHaveValue('low', { timeout: 1000 });
  }).toPass({ timeout: 20_000 });

  async function idOf(number: number): Promise<string> {
    const all = (await (await page.request.get(`/api/projects/${project}/comments`)).json()) as { id: string; number: number }[]; // prettier-ignore
    return all.find((comment) => comment.number === number)!.id;
  }
});
