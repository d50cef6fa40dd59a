import { expect, test } from '@playwright/test';
import {
  endMeeting,
  expectNoViolations,
  guestByCode,
  libraryId,
  modelArrived,
  openLibrary,
  openPage,
  signIn,
  stage,
  startMeeting,
} from './steps';
import { NODES } from '../../playwright.config';

test('the lead switches between two roofs, a guest sees it, and a viewpoint remembers it', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await openLibrary(page);
  const roofs = page.getByRole('radiogroup', { name: 'Hall roof' });
  await expect(roofs.getByRole('radio', { name: 'Folded' })).toBeChecked();
  const guest = await guestByCode(browser, await startMeeting(page, 'Two roofs'), 'Bo', NODES.second);
  await roofs.getByRole('radio', { name: 'Vaulted' }).click();
  await expect(guest.getByRole('radio', { name: 'Vaulted' })).toBeChecked();
  await expectNoViolations(page);

  await page.getByRole('button', { name: 'Save this view' }).click();
  await page.getByLabel('Name of the viewpoint').fill('The vault');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: /Viewpoint \d+: The vault/ })).toBeVisible();
  await roofs.getByRole('radio', { name: 'Folded' }).click();
  await expect(guest.getByRole('radio', { name: 'Folded' })).toBeChecked();
  await page
    .getByRole('button', { name: /The vault/ })
    .first()
    .click();
  await expect(roofs.getByRole('radio', { name: 'Vaulted' })).toBeChecked();
  await expect(guest.getByRole('radio', { name: 'Vaulted' })).toBeChecked();
  await guest.context().close();
  await page.getByRole('button', { name: 'Delete The vault' }).click();
  await endMeeting(page);
});

test('a link fixes the roof, and a model is placed by hand and comes back', async ({ page, browser }) => {
  await signIn(page);
  const project = await libraryId(page);
  await openPage(page, `/projects/${project}/prepare`);
  await page.getByLabel('Whom is it for?').fill('Roof committee');
  await page.getByLabel('Hall roof', { exact: true }).selectOption({ label: 'only Vaulted' });
  await page.getByRole('button', { name: 'Make link' }).click();
  const url = new URL((await page.getByTestId('fresh-link').textContent())!);
  await expect(page.getByText(/Hall roof: only Vaulted/)).toBeVisible();
  const guest = await (await browser.newContext({ viewport: { width: 800, height: 560 } })).newPage();
  await guest.goto(NODES.first + url.pathname);
  await guest.getByLabel('Your name').fill('Tuula');
  await guest.getByRole('button', { name: 'Come in' }).click();
  await modelArrived(guest);
  await expect(guest.getByRole('radiogroup', { name: 'Hall roof' })).toHaveCount(0);
  await guest.context().close();

  await page.getByRole('link', { name: 'See them in place' }).click();
  await page.waitForURL('**/prepare/options/*');
  await expect(stage(page)).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Folded' })).toBeChecked();
  await page.getByText('Vaulted', { exact: true }).click();
  await expect(page.getByRole('radio', { name: 'Vaulted' })).toBeChecked();
  await expectNoViolations(page);
  await page.getByRole('link', { name: 'Back to Prepare' }).click();
  await page.waitForURL('**/prepare');

  await page.getByRole('link', { name: 'stands as its file says' }).last().click();
  await page.waitForURL('**/prepare/place/*');
  await expect(stage(page)).toBeVisible();
  await page.getByText('By hand', { exact: true }).click();
  await page.getByLabel('Up (Z), m').fill('2.5');
  await page.getByLabel('Turned left, °').fill('90');
  await page.keyboard.press('Enter');
  await expectNoViolations(page);
  await page.getByRole('button', { name: 'Keep this place' }).click();
  await page.waitForURL('**/prepare');
  await page.getByRole('link', { name: 'placed by hand' }).click();
  await page.waitForURL('**/prepare/place/*');
  await expect(page.getByLabel('Up (Z), m')).toHaveValue('2.5');
  await expect(page.getByLabel('Turned left, °')).toHaveValue('90');
  await page.getByText('As its file says', { exact: true }).click();
  await page.getByRole('button', { name: 'Keep this place' }).click();
  await page.waitForURL(`**/projects/${project}/prepare`);
  await expect(page.getByRole('link', { name: 'placed by hand' })).toHaveCount(0);
});
