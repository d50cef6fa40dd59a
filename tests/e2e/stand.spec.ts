import { expect, test, type Page } from '@playwright/test';
import { NODES } from '../../playwright.config';
import {
  endMeeting,
  expectNoViolations,
  guestByCode,
  guestByTouch,
  openLibrary,
  signIn,
  stage,
  startMeeting,
} from './steps';

test.use({ viewport: { width: 1280, height: 800 } });

const plan = (page: Page) => page.getByRole('application', { name: /^Plan of/ });
const standing = (page: Page) => page.getByRole('group', { name: 'You stand in the model' });

/** Where the map shows this person, in its pixels. */
async function placeOnMap(page: Page): Promise<[number, number]> {
  const you = plan(page).locator('g:has(> path + circle + circle)').last();
  const [, x, y] = /translate\(([-\d.]+) ([-\d.]+)\)/.exec((await you.getAttribute('transform'))!)!;
  return [Number(x), Number(y)];
}

/** Taps the map at shares of its width and height. */
async function tapMap(page: Page, x: number, y: number): Promise<void> {
  const box = (await plan(page).boundingBox())!;
  await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
}

test('somebody stands in the hall by the plan, walks, looks up, goes upstairs and rises again', async ({ page }) => {
  test.setTimeout(180_000);
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await signIn(page);
  await openLibrary(page);
  await expect(plan(page)).toHaveAccessibleName(/Ground floor/);

  await tapMap(page, 0.68, 0.45);
  await expect(standing(page)).toBeVisible();
  const before = await placeOnMap(page);
  await stage(page).focus();
  await page.keyboard.down('ArrowDown');
  await page.waitForTimeout(1500);
  await page.keyboard.up('ArrowDown');
  await expect.poll(async () => (await placeOnMap(page)).join()).not.toBe(before.join());

  // Another body, another height of the eyes; the pose of the view follows.
  await page.getByLabel('Eye height').selectOption('child');
  await page.getByLabel('Eye height').selectOption('adult');

  // The children's corner is upstairs.
  await page.getByRole('radio', { name: 'First floor' }).click();
  await expect(plan(page)).toHaveAccessibleName(/First floor/);
  await tapMap(page, 0.27, 0.5);
  await expect(standing(page)).toBeVisible();
  await expect(page.getByRole('radio', { name: 'First floor' })).toBeChecked();
  await expectNoViolations(page);

  await standing(page).getByRole('button', { name: 'Rise' }).click();
  await expect(standing(page)).toBeHidden();

  // Back to the places where one was.
  await page.getByRole('button', { name: 'More ways to move' }).click();
  await page.waitForTimeout(900);
  await page.getByRole('button', { name: 'Place before' }).click();
  await expect(page.getByRole('button', { name: 'Place after' })).toBeEnabled();

  // Square on, without perspective, as in drawings.
  await page.getByLabel('Look square on').selectOption('south');
  await expect(page.getByRole('button', { name: 'Without perspective' })).toHaveAttribute('aria-pressed', 'true');
  await page.getByLabel('Plan of a storey').selectOption({ label: 'First floor' });
  await expect(page.getByRole('group', { name: 'Move' }).getByRole('status')).toContainText('Cut level at');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByRole('group', { name: 'Move' }).getByRole('status')).not.toContainText('Cut level at');
});

test('on a phone a guest goes upstairs by the plan and walks with a thumb', async ({ page, browser }) => {
  await signIn(page);
  const phone = await guestByTouch(browser, page, { right: 'look', name: 'Sini' }, { width: 390, height: 844 });
  const openPlan = () => phone.getByRole('button', { name: 'Open the plan' }).tap();
  const foldPlan = () => phone.getByRole('button', { name: 'Fold the plan' }).tap();

  await openPlan();
  await phone.getByRole('radio', { name: 'First floor' }).tap();
  const room = plan(phone).getByText('Children');
  await expect(room).toBeVisible();
  const name = (await room.boundingBox())!;
  await phone.touchscreen.tap(name.x + name.width / 2, name.y + name.height + 6);
  await expect(standing(phone)).toBeVisible();
  await expect(phone.getByRole('radio', { name: 'First floor' })).toBeChecked();
  const before = await placeOnMap(phone);
  await foldPlan();

  // The thumb's stick stands free of what else is pressed there.
  const stick = (await phone.getByTestId('thumb-stick').boundingBox())!;
  const options = (await phone.getByRole('radiogroup', { name: 'Hall roof' }).boundingBox())!;
  expect(stick.y + stick.height).toBeLessThanOrEqual(options.y);
  const fingers = await phone.context().newCDPSession(phone);
  const [x, y] = [stick.x + stick.width / 2, stick.y + stick.height / 2];
  await fingers.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [{ x, y }] });
  await fingers.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: [{ x, y: y + 40 }] });
  await phone.waitForTimeout(1500);
  await fingers.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await openPlan();
  await expect.poll(async () => (await placeOnMap(phone)).join()).not.toBe(before.join());
  await expectNoViolations(phone);
  await phone.context().close();
});

test('two who walk see where the other one is', async ({ page, browser }) => {
  test.setTimeout(180_000);
  await signIn(page);
  await openLibrary(page);
  const code = await startMeeting(page, 'Walk');
  const guest = await guestByCode(browser, code, 'Tuula Aho', NODES.second);
  try {
    await guest.setViewportSize({ width: 1280, height: 800 });
    await guest.getByRole('button', { name: 'Open the plan' }).click();
    await tapMap(guest, 0.68, 0.45);
    await expect(standing(guest)).toBeVisible();
    await expect(page.getByTestId('person-on-map')).toHaveCount(1);
    await expect(page.getByTestId('figure').filter({ hasText: 'Tuula Aho' })).toBeAttached();
    await expect(guest.getByRole('button', { name: 'Back to Ines' })).toBeVisible();
  } finally {
    await endMeeting(page);
    await guest.context().close();
  }
});

test('the sun of the place: its hour, the hours of sun somewhere, and how the model is drawn', async ({ page }) => {
  test.setTimeout(180_000);
  await signIn(page);
  await openLibrary(page);
  await page.getByRole('button', { name: 'Light', exact: true }).click();
  const tray = page.getByRole('group', { name: 'Light' });
  await tray.getByRole('button', { name: 'Sun of the place' }).click();
  await tray.getByLabel('Day', { exact: true }).fill('2026-06-21');
  await expect(tray.getByText(/^Sunrise 4:\d\d, sunset 21:\d\d$/)).toBeVisible();
  await expect(tray.getByText(/^Sun in the .+ high$/)).toBeVisible();
  await page.getByRole('slider', { name: 'Hour of the sun' }).press('ArrowRight');
  await expect(tray.getByRole('status').last()).toContainText('In the sun of 21 June 2026, 15:15');

  // A place on the meadow before the house has sun; the day, the year and a table say how much.
  await tray.getByRole('button', { name: 'Sun here' }).click();
  await stage(page).click({ position: { x: 640, y: 590 } });
  const hours = tray.getByRole('group', { name: 'Hours of direct sun' });
  await expect(hours.getByText(/of direct sun on 21 June 2026/)).toBeVisible({ timeout: 30_000 });
  await expect(hours.getByRole('button', { name: 'Save as CSV' })).toBeEnabled({ timeout: 60_000 });
  const [table] = await Promise.all([
    page.waitForEvent('download'),
    hours.getByRole('button', { name: 'Save as CSV' }).click(),
  ]);
  expect(table.suggestedFilename()).toBe('hours-of-sun.csv');

  // The place can be set by hand, with the time that holds there, and taken from the models again.
  await tray.getByRole('button', { name: 'Place', exact: true }).click();
  await tray.getByLabel('Latitude').fill('40.7');
  await tray.getByLabel('Longitude').fill('-74');
  await tray.getByLabel('Longitude').press('Enter');
  await expect(tray.getByLabel('Time zone')).toHaveValue('America/New_York');
  await tray.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(tray.getByText(/40\.700° N, 74\.000° W/)).toBeVisible();
  await tray.getByRole('button', { name: 'Place', exact: true }).click();
  await tray.getByRole('button', { name: 'As the models say' }).click();
  await expect(tray.getByText(/from the model/)).toBeVisible();

  await tray.getByLabel('Style').selectOption('ink');
  await expect(tray.getByRole('status').last()).toContainText('Drawn in ink only');
  await expectNoViolations(page);
});

test('a page in a window of its own stays in step, also after it was loaded anew', async ({ page }) => {
  test.setTimeout(120_000);
  await signIn(page);
  await openLibrary(page);
  await page.getByRole('button', { name: 'Contents' }).click();
  const [beside] = await Promise.all([
    page.waitForEvent('popup'),
    page.getByRole('button', { name: 'In a window of its own' }).click(),
  ]);
  const services = beside.getByRole('checkbox', { name: 'Show Building services' });
  await services.press('Space');
  await expect(services).not.toBeChecked();
  await page.getByRole('button', { name: 'Contents' }).click();
  await expect(page.getByRole('checkbox', { name: 'Show Building services' })).not.toBeChecked();
  await beside.reload();
  await expect(services).not.toBeChecked();
  await page.getByRole('checkbox', { name: 'Show Building services' }).press('Space');
  await expect(services).toBeChecked();

  // A quiet screen shows nothing but the model; one key brings the rest back.
  await page.getByRole('region', { name: 'Running order' }).waitFor();
  await page.keyboard.press('Escape');
  await stage(page).focus();
  await page.keyboard.press('q');
  await expect(page.getByRole('region', { name: 'Running order' })).toBeHidden();
  await page.keyboard.press('q');
  await expect(page.getByRole('region', { name: 'Running order' })).toBeVisible();
});
