import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { NODES } from '../../playwright.config';
import { endMeeting, expectNoViolations, guestByCode, openLibrary, signIn, stage, startMeeting } from './steps';

/** Pixels of indigo ink in a part of the picture. */
async function inked(page: Page, clip: { x: number; y: number; width: number; height: number }): Promise<number> {
  const { data, info } = await sharp(await page.screenshot({ clip }))
    .raw()
    .toBuffer({ resolveWithObject: true });
  let count = 0;
  for (let at = 0; at < data.length; at += info.channels) {
    const [red, green, blue] = [data[at]!, data[at + 1]!, data[at + 2]!];
    if (Math.abs(red - 0x34) < 14 && Math.abs(green - 0x49) < 14 && Math.abs(blue - 0x7f) < 14) count++;
  }
  return count;
}

test.use({ viewport: { width: 1024, height: 680 } });

test('what is drawn grows before everybody’s eyes, is changed, taken back, kept in viewpoints and fades elsewhere', async ({
  page,
  browser,
}) => {
  test.setTimeout(240_000);
  await signIn(page);
  await openLibrary(page);
  const code = await startMeeting(page, 'Drawing');
  const guest = await guestByCode(browser, code, 'Aino Salo', NODES.second);
  await expect(guest.getByText('You follow Ines Okafor')).toBeVisible();
  await guest.setViewportSize({ width: 1024, height: 680 });
  const middle = { x: 540, y: 290 };
  const drawn = { x: middle.x - 10, y: middle.y - 10, width: 170, height: 70 };

  // A line grows on the other node while the hand is still down.
  await page.keyboard.press('k');
  const tray = page.getByRole('group', { name: 'Mark', exact: true });
  await tray.getByRole('button', { name: 'Freehand' }).click();
  await tray.getByRole('button', { name: 'Broad' }).click();
  await tray.getByRole('button', { name: 'Indigo' }).click();
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down();
  for (let i = 1; i <= 12; i++) {
    await page.mouse.move(middle.x + i * 12, middle.y + (i % 3) * 20);
    await page.waitForTimeout(60);
  }
  await expect.poll(() => inked(guest, drawn), { timeout: 20_000 }).toBeGreaterThan(60);
  await page.mouse.up();
  await expect(guest.getByText('Drawn: freehand.')).toBeAttached();

  // A guest draws too, and everybody has it; what the lead drew is not the guest's to delete.
  await guest.getByRole('button', { name: 'Mark', exact: true }).click();
  const theirs = guest.getByRole('group', { name: 'Mark', exact: true });
  await theirs.getByRole('button', { name: 'Cloud' }).click();
  await stage(guest).press('Enter');
  await expect(page.getByText('Drawn: freehand, cloud.')).toBeAttached();
  await stage(guest).press(',');
  await expect(theirs.getByText('Drawn by Ines Okafor; the lead can change it.')).toBeVisible();
  await stage(guest).press('Delete');
  await expect(guest.getByText('Drawn: freehand, cloud.')).toBeAttached();
  await expectNoViolations(guest);

  // Undo takes back one's own and nothing else.
  await page.keyboard.press('Control+z');
  await expect(guest.getByText('Drawn: cloud.')).toBeAttached();
  await page.keyboard.press('Control+Shift+z');
  await expect(guest.getByText('Drawn: cloud, freehand.')).toBeAttached();

  // Words, written and changed; kept in a viewpoint, gone without it.
  await tray.getByRole('button', { name: 'Text' }).click();
  await page.mouse.click(middle.x, middle.y + 130);
  await tray.getByLabel('Words').fill('שלום <b>sill</b> 🪟');
  await tray.getByLabel('Words').press('Enter');
  await expect(guest.getByText('Drawn: cloud, freehand, “שלום <b>sill</b> 🪟”.')).toBeAttached();
  await page.getByRole('button', { name: 'Save this view' }).click();
  await page.getByLabel('Name of the viewpoint').fill('As drawn');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: /Viewpoint \d+: As drawn/ })).toBeVisible();
  await page.getByRole('button', { name: 'Next', exact: true }).isDisabled();
  await page.getByRole('button', { name: /Viewpoint 1:/ }).click();
  await expect(guest.getByText(/^Drawn:/)).toHaveCount(0);
  await page.getByRole('button', { name: /Viewpoint \d+: As drawn/ }).click();
  await expect(guest.getByText(/^Drawn: cloud, freehand/)).toBeAttached();
  await expect.poll(() => inked(guest, drawn), { timeout: 20_000 }).toBeGreaterThan(60);

  // Elsewhere what was drawn over that view is not seen.
  await stage(guest).focus();
  for (let i = 0; i < 4; i++) await stage(guest).press('ArrowLeft');
  await expect.poll(() => inked(guest, drawn), { timeout: 20_000 }).toBe(0);

  await page.getByRole('button', { name: 'Delete As drawn' }).press('Enter');
  await endMeeting(page);
  await guest.context().close();
});
