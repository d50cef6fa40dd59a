import { expect, test, type Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { NODES } from '../../playwright.config';
import {
  endMeeting,
  expectNoViolations,
  guestByCode,
  modelArrived,
  openLibrary,
  signIn,
  stage,
  startMeeting,
} from './steps';

// The tray leaves half of a small picture to measure in.
test.use({ viewport: { width: 1280, height: 800 } });

const tray = (page: Page) => page.getByRole('group', { name: 'Measure', exact: true });
const measures = (page: Page) => tray(page).getByRole('list', { name: 'Measures' }).getByRole('listitem');
const asks = (page: Page) => tray(page).getByRole('status').first();

/** A place of the picture, as shares of its width and height. */
async function tapAt(page: Page, x: number, y: number): Promise<void> {
  const box = (await stage(page).boundingBox())!;
  await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
}

test('the plant room of the running order holds its measures, which each person reads in their own units', async ({
  page,
}) => {
  await signIn(page);
  await openLibrary(page);
  await page.getByRole('button', { name: /Viewpoint \d+: Plant room$/ }).click();
  await page.keyboard.press('d');
  await expect(measures(page)).toHaveCount(3);
  await expect(measures(page).nth(0)).toContainText('3.350 m');
  await tray(page).getByLabel('Units').selectOption('ft');
  await expect(measures(page).nth(0)).toContainText('10′ 11 7/8″');
  await tray(page).getByLabel('Fraction of an inch').selectOption('4');
  await expect(measures(page).nth(0)).toContainText('11′ 0″');
  await page.reload();
  await modelArrived(page);
  await page.getByRole('button', { name: /Viewpoint \d+: Plant room$/ }).click();
  await page.keyboard.press('d');
  await expect(measures(page).nth(0)).toContainText('11′ 0″');
  await tray(page).getByLabel('Units').selectOption('mm');
  await expect(measures(page).nth(0)).toContainText('3350 mm');

  // Named, pointed out, handed out, removed, brought back.
  await measures(page).nth(0).getByLabel('Rename Way to the tanks').dblclick();
  await page.getByLabel('Name of Way to the tanks').fill('=Door');
  await page.getByLabel('Name of Way to the tanks').press('Enter');
  await expect(measures(page).nth(0)).toContainText('=Door');
  await measures(page).nth(0).getByRole('button', { name: 'Point out =Door' }).click();
  await expect(measures(page).nth(0)).toContainText('Level');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    tray(page).getByRole('button', { name: 'Save as CSV' }).click(),
  ]);
  const table = await readFile(await file.path(), 'utf8');
  expect(table).toContain('3350 mm');
  expect(table).not.toMatch(/^=Door/m); // no spreadsheet may run it
  await measures(page).nth(0).getByRole('button', { name: 'Remove =Door' }).click();
  await expect(measures(page)).toHaveCount(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(measures(page)).toHaveCount(3);
  await expectNoViolations(page);
  await tray(page).getByRole('button', { name: 'Remove all' }).click();
  await expect(measures(page)).toHaveCount(0);
});

test('the lead measures and a guest on another node sees it grow; the guest measures alone and goes on following', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await openLibrary(page);
  const code = await startMeeting(page, 'By the metre');
  const guest = await guestByCode(browser, code, 'Bo', NODES.second);
  await guest.keyboard.press('d');
  await page.keyboard.press('d');
  await expect(asks(page)).toHaveText('Tap the first place.');
  await tapAt(page, 0.62, 0.45);
  await expect(asks(page)).toHaveText('Tap the second place.');
  const box = (await stage(page).boundingBox())!;
  await expect(async () => {
    for (const x of [0.7, 0.71, 0.72]) await page.mouse.move(box.x + box.width * x, box.y + box.height * 0.5);
    await expect(measures(guest)).toHaveCount(1, { timeout: 2000 }); // it is not done yet
  }).toPass();
  await tapAt(page, 0.75, 0.5);
  await expect(measures(page)).toHaveCount(1);
  await expect(asks(page)).toHaveText('Tap the first place.');
  const figure = await measures(page)
    .first()
    .getByRole('button', { name: /Point out/ })
    .textContent();
  await expect(measures(guest).first()).toContainText(figure!);

  // Abandoned by Escape: nothing of it stays, for nobody.
  await tapAt(page, 0.6, 0.5);
  await page.keyboard.press('Escape');
  await expect(asks(page)).toHaveText('Tap the first place.');
  await expect(measures(guest)).toHaveCount(1);

  await tapAt(guest, 0.62, 0.45);
  await tapAt(guest, 0.7, 0.4);
  await expect(measures(guest)).toHaveCount(2);
  await expect(measures(page)).toHaveCount(1);
  await expect(guest.getByRole('button', { name: /^Back to/ })).toHaveCount(0); // still following
  await page.getByRole('button', { name: /Viewpoint 2/ }).click();
  await expect(guest.getByRole('button', { name: /Viewpoint 2/ })).toHaveAttribute('aria-current', 'step');
  await guest.context().close();
  await endMeeting(page);
});

test('rooms, faces, heights and places are asked of the model; by keys too', async ({ page }) => {
  await signIn(page);
  await openLibrary(page);
  await page.getByRole('button', { name: /Viewpoint \d+: Ground floor$/ }).click();
  await page.keyboard.press('d');
  await expect(tray(page)).toBeVisible();
  await tray(page).getByRole('button', { name: 'Room', exact: true }).click();
  // The court lies there once the camera has arrived; walls close around it.
  await page.waitForTimeout(1500);
  await tapAt(page, 0.45, 0.42);
  await expect(measures(page)).toHaveCount(1);
  await expect(measures(page).first()).toContainText(/\d+\.\d\d m²/);
  await tray(page).getByRole('button', { name: 'Place', exact: true }).click();
  await stage(page).focus();
  await page.keyboard.press('Enter');
  await expect(measures(page)).toHaveCount(2);
  await expect(measures(page).nth(1)).toContainText('On the map');
  await tray(page).getByRole('button', { name: 'Face', exact: true }).click();
  await tapAt(page, 0.52, 0.52);
  await expect(measures(page)).toHaveCount(3);
  await tray(page).getByRole('button', { name: 'Radius', exact: true }).click();
  await tapAt(page, 0.66, 0.5);
  await expect(tray(page).getByRole('alert')).toHaveText('Nothing is round at this place.');
  await tray(page).getByRole('button', { name: 'Remove all' }).click();
});

test('a cut is drawn flat, measured there, and handed out', async ({ page }) => {
  await signIn(page);
  await openLibrary(page);
  await page.getByRole('button', { name: /Viewpoint \d+: Ground floor$/ }).click();
  await page.keyboard.press('c');
  await page.getByRole('button', { name: 'Flat drawing of Plane 1' }).click();
  const drawing = page.getByRole('region', { name: 'Flat drawing' });
  await expect(drawing.getByRole('button', { name: 'Save the drawing' })).toBeEnabled();
  await expectNoViolations(page);
  await drawing.getByRole('button', { name: 'Measure on the drawing' }).click();
  await expect(tray(page)).toBeVisible();
  const sheet = drawing.getByRole('application');
  const box = (await sheet.boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.3, box.y + box.height * 0.4);
  await page.mouse.click(box.x + box.width * 0.6, box.y + box.height * 0.6);
  await expect(measures(page)).toHaveCount(1);
  await drawing.getByRole('button', { name: 'Full screen' }).click();
  for (const [item, head] of [
    ['SVG', '<svg'],
    ['DXF', '0\n'],
    ['PDF at 1:100', '%PDF-'],
  ] as const) {
    await drawing.getByRole('button', { name: 'Save the drawing' }).click();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: item }).click(),
    ]);
    expect((await readFile(await file.path(), 'latin1')).trimStart()).toMatch(new RegExp(`^\\s*${head.trim()}`));
  }
  await drawing.getByRole('button', { name: 'Close the flat drawing' }).click();
  await expect(drawing).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
});
