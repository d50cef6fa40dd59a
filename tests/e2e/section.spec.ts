import { expect, test, type Page } from '@playwright/test';
import { NODES } from '../../playwright.config';
import { endMeeting, expectNoViolations, guestByCode, openLibrary, signIn, stage, startMeeting } from './steps';

const tray = (page: Page) => page.getByRole('group', { name: 'Cut', exact: true });
/** What the tray of Cut says to those who do not see the picture. */
const said = (page: Page) => tray(page).getByRole('status');

test('the lead cuts, flips and slices; a guest on another node sees the same; undo and viewpoints hold it', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await openLibrary(page);
  const code = await startMeeting(page, 'Through the house');
  const guest = await guestByCode(browser, code, 'Bo', NODES.second);
  await guest.keyboard.press('c');
  await expect(said(guest)).toHaveText('Everything shows.');

  await page.keyboard.press('c');
  await tray(page).getByLabel('Storey').selectOption({ index: 0 });
  await tray(page).getByRole('button', { name: 'Level', exact: true }).click();
  await expect(said(guest)).toContainText(/Cut level at \d+\.\d\d m, seen from above\./);
  const plane = tray(page).getByRole('group', { name: 'Plane 1' });
  await plane.getByLabel('Offset, m').fill('2,5');
  await plane.getByLabel('Offset, m').press('Enter');
  await expect(said(guest)).toContainText('Cut level at 2.50 m');

  await page.getByRole('button', { name: /Viewpoint 2/ }).click();
  await expect(said(guest)).toHaveText('Everything shows.');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(said(guest)).toContainText('Cut level at 2.50 m');
  await plane.getByRole('button', { name: 'Flip Plane 1' }).click();
  await expect(said(guest)).toContainText('seen from below');
  await plane.getByText('Slice').click();
  await expect(said(guest)).toContainText('Cut to a slice of 2.00 m');
  await expectNoViolations(page);
  await expectNoViolations(guest);

  // On the face that one taps.
  await plane.getByRole('button', { name: 'Remove Plane 1' }).click();
  await tray(page).getByRole('button', { name: 'On a face' }).click();
  const box = (await stage(page).boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.62, box.y + box.height * 0.45);
  await expect(tray(page).getByRole('group', { name: 'Plane 1' })).toBeVisible();
  await expect(said(guest)).toContainText(/^Cut /);
  await tray(page).getByRole('button', { name: 'Remove all' }).click();
  await expect(said(guest)).toHaveText('Everything shows.');

  // A box, kept in a viewpoint.
  await tray(page).getByRole('button', { name: 'Box around the storey' }).click();
  await expect(said(guest)).toContainText('Cut to a box of');
  await page.getByRole('button', { name: 'Save this view' }).click();
  await page.getByLabel('Name of the viewpoint').fill('Ground floor, open');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const saved = page.getByRole('button', { name: /Ground floor, open/ }).first();
  await expect(saved).toBeVisible();
  await tray(page).getByRole('button', { name: 'Remove the box' }).click();
  await expect(said(guest)).toHaveText('Everything shows.');
  await saved.click();
  await expect(said(guest)).toContainText('Cut to a box of');

  await guest.context().close();
  await endMeeting(page);
});
