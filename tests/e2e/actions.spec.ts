import { expect, test } from '@playwright/test';
import { DESIGNER, expectNoViolations, openLibrary, signIn, stage } from './steps';

test.use({ viewport: { width: 1100, height: 720 } });

test('an action is given to somebody, who is told, does it, and everybody sees how far it is', async ({
  page,
  browser,
}) => {
  test.setTimeout(180_000);
  await signIn(page);
  const project = await openLibrary(page);

  // Said in its place, with who and by when.
  await page.keyboard.press('s');
  await expect(page.getByText('Point at what you mean.')).toBeVisible(); // the tool's code has arrived
  await stage(page).click({ position: { x: 560, y: 330 } });
  const tray = page.getByRole('group', { name: 'Say something' });
  await tray.getByLabel('Your comment').fill('Lower this sill to 600 mm <b>soon</b>');
  await tray.getByLabel('Kind').selectOption('Action');
  await tray.getByLabel('Who is to do it').selectOption('Mikko Karras');
  await tray.getByLabel('By which day').fill('2026-01-15');
  await tray.getByLabel('Priority').selectOption('High priority');
  await expectNoViolations(page);
  await tray.getByRole('button', { name: 'Say', exact: true }).click();
  const talk = page.getByRole('region', { name: 'Talk' });
  await expect(talk.getByText(/Action · Open.*for Mikko Karras.*late, due 15 Jan 2026/)).toBeVisible();

  // Whoever is to do it hears of it and has it on their list, one press from its place.
  const theirs = await (await browser.newContext({ viewport: { width: 1100, height: 720 } })).newPage();
  await signIn(theirs, DESIGNER);
  await theirs.getByRole('button', { name: /Account of Mikko/ }).click();
  await theirs.getByRole('menuitem', { name: 'My list' }).click();
  const mine = theirs.getByRole('listitem').filter({ hasText: 'Lower this sill to 600 mm <b>soon</b>' });
  await expect(mine.getByText('high priority')).toBeVisible();
  await mine.getByLabel(/Status of comment/).selectOption('In work');
  await expect(mine.getByLabel(/Status of comment/)).toHaveValue('in-work');
  await expectNoViolations(theirs);
  await theirs.goto('/outbox');
  await expect(theirs.getByText(/Town library: number \d+ is yours to do/).first()).toBeVisible({ timeout: 20_000 });

  // Followed up: found, seen on the board and in the calendar, moved on by the keyboard.
  await page.goto(`/projects/${project}/follow-up`);
  const search = page.getByRole('search', { name: 'Comments' });
  await search.getByLabel('Words').fill('sill soon');
  await search.getByLabel('When due').selectOption('Late');
  await search.getByLabel('Whose').selectOption('Mikko Karras');
  const line = page.getByRole('button', { name: /^Comment \d+: Lower this sill/ });
  await expect(line).toHaveCount(1);
  await page.getByRole('button', { name: 'Board' }).click();
  const board = page.getByRole('region', { name: 'In work' });
  await expect(board.getByRole('button', { name: /Lower this sill/ })).toBeVisible();
  await expectNoViolations(page);
  const from = (await board.getByRole('button', { name: /Lower this sill/ }).boundingBox())!;
  const to = (await page.getByRole('region', { name: 'Answered' }).boundingBox())!;
  await page.mouse.move(from.x + 30, from.y + 15);
  await page.mouse.down();
  await page.mouse.move(to.x + 60, to.y + 80, { steps: 8 });
  await page.mouse.up();
  await expect(
    page.getByRole('region', { name: 'Answered' }).getByRole('button', { name: /Lower this sill/ }),
  ).toBeVisible();
  await search.getByLabel('When due').selectOption('Any day');
  await page.getByRole('button', { name: 'Calendar' }).click();
  await expect(page.getByRole('list', { name: 'Days' })).toBeVisible();
  await expectNoViolations(page);
  await page.getByRole('button', { name: 'List', exact: true }).click();
  await line.click();
  await page.getByLabel('By which day').fill('2099-12-31');
  await expect(page.getByText(/due 2026-01-15 → 2099-12-31/)).toBeVisible();
  await page.getByRole('button', { name: 'Change words' }).click();
  await page.getByLabel('Words of the comment').fill('Lower this sill to 550 mm');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await search.getByLabel('Words').fill('550');
  await expect(page.getByText('(changed)')).toBeVisible();

  // Done: it leaves the list of whoever had it; deleted, it is nowhere.
  await theirs.goto('/actions');
  await expect(theirs.getByText('Lower this sill')).toBeVisible();
  await page.getByLabel(/^Status of comment/).selectOption('Closed');
  await expect(theirs.getByText('Lower this sill')).toHaveCount(0);
  await page.getByRole('button', { name: /^Delete comment/ }).click();
  await page.getByRole('status').getByRole('button', { name: 'Undo' }).click();
  await expect(line).toBeVisible();
  await page.getByRole('button', { name: /^Delete comment/ }).click();
  await expect(page.getByRole('button', { name: /^Comment \d+: Lower this sill/ })).toHaveCount(0);
  await theirs.context().close();
});
