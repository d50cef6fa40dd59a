import { expect, test, type Page } from '@playwright/test';
import { NODES } from '../../playwright.config';
import { endMeeting, expectNoViolations, guestByCode, openLibrary, signIn, startMeeting } from './steps';

/** What the tray of Show says to those who do not see the picture. */
const said = (page: Page) => page.getByRole('group', { name: 'Show', exact: true }).getByRole('status');

test('the lead hides, fades and spreads; a guest on another node sees the same, also after coming late', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await openLibrary(page);
  const code = await startMeeting(page, 'What shows');
  const guest = await guestByCode(browser, code, 'Bo', NODES.second);
  await guest.keyboard.press('h');
  await expect(said(guest)).toHaveText('Everything shows.');

  // By the contents and by keys alone.
  await page.keyboard.press('h');
  const tray = page.getByRole('group', { name: 'Show', exact: true });
  await page.getByRole('button', { name: 'Contents' }).click();
  const services = page.getByRole('region', { name: 'Building services' });
  await services.getByRole('button', { name: 'Hide First floor', exact: true }).first().press('Enter'); // prettier-ignore
  await expect(said(guest)).toContainText('Shown: everything except First floor in Building services.');
  await services.getByRole('button', { name: 'Fade Ground floor', exact: true }).first().click(); // prettier-ignore
  await expect(said(guest)).toContainText('Faded by 75 %: Ground floor in Building services.');
  const slider = tray.getByRole('slider', { name: /How clear: Ground floor/ });
  await slider.focus();
  for (let i = 0; i < 5; i++) await slider.press('ArrowLeft');
  await expect(said(guest)).toContainText('Faded by 70 %');
  await services.getByRole('button', { name: /^Ground floor/ }).first().click(); // prettier-ignore
  await tray.getByRole('button', { name: 'Turquoise' }).click();
  await expect(said(guest)).toContainText('Coloured turquoise: Ground floor in Building services.');
  await tray.getByRole('radio', { name: 'Storeys' }).click();
  await expect(said(guest)).toContainText('Spread storey by storey, 35 %.');
  await expectNoViolations(page);
  await expectNoViolations(guest);

  const late = await guestByCode(browser, code, 'Cy', NODES.first);
  await late.keyboard.press('h');
  await expect(said(late)).toContainText('Spread storey by storey, 35 %.');
  await late.context().close();

  // Step by step back and forth again.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(said(guest)).not.toContainText('Spread');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+Shift+z');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(said(guest)).toContainText('Spread storey by storey, 35 %.');

  // A viewpoint that is opened is one step, and the guest's undo does not reach what the lead has shown.
  await expect(guest.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await page.getByRole('button', { name: /Viewpoint 2/ }).click();
  await expect(said(guest)).toHaveText('Everything shows.');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(said(guest)).toContainText('Spread storey by storey, 35 %.');

  await guest.context().close();
  await endMeeting(page);
});

test('a form says at its field what is missing, in our words', async ({ page }) => {
  await page.goto('/sign-in');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('The e-mail address is missing.')).toBeVisible();
  await expect(page.getByLabel('E-mail')).toHaveAttribute('aria-invalid', 'true');
  await expectNoViolations(page);
  await page.goto('/join');
  await page.getByRole('button', { name: 'Come in' }).click();
  await expect(page.getByText('A meeting code has six digits, such as 482 917.')).toBeVisible();
  await expect(page.getByText('Your name is missing.')).toBeVisible();
});
