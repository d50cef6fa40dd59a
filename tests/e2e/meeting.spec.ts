import { expect, test } from '@playwright/test';
import { NODES } from '../../playwright.config';
import { endMeeting, expectNoViolations, guestByCode, openLibrary, signIn, stage, startMeeting } from './steps';

test('a meeting over two nodes: follow, wander, point, say, pass the lead, minutes', async ({ page, browser }) => {
  test.setTimeout(240_000);
  await signIn(page);
  const project = await openLibrary(page);
  const code = await startMeeting(page, 'Council evening');

  const guest = await guestByCode(browser, code, 'Tuula Aho', NODES.second);
  await expect(guest.getByText('You follow Ines Okafor')).toBeVisible();
  await expect(page.getByRole('button', { name: '2 people here' })).toBeVisible();
  await expect(guest.getByRole('navigation', { name: 'Stations' })).toHaveCount(0);

  // The lead shows a viewpoint; the guest's running order follows.
  await page.getByRole('button', { name: /Viewpoint 2/ }).click();
  await expect(guest.getByRole('button', { name: /Viewpoint 2/ })).toHaveAttribute('aria-current', 'step');

  // The lead hides a model; the guest sees the switch off.
  await page.getByRole('button', { name: 'Contents' }).click();
  await page.getByRole('checkbox', { name: 'Show Building services' }).press('Space');
  await guest.getByRole('button', { name: 'Contents' }).click();
  await expect(guest.getByRole('checkbox', { name: 'Show Building services' })).not.toBeChecked();
  await page.getByRole('button', { name: 'Contents' }).click();
  await guest.getByRole('button', { name: 'Contents' }).click();

  // The guest's pointer shows at the lead's.
  await guest.mouse.move(400, 300);
  await guest.mouse.move(420, 310, { steps: 5 });
  await expect(page.getByTestId('pointer').filter({ hasText: 'Tuula Aho' })).toBeAttached();

  // The guest wanders and comes back.
  await guest.mouse.move(500, 300);
  await guest.mouse.down();
  await guest.mouse.move(560, 320, { steps: 4 });
  await guest.mouse.up();
  await guest.getByRole('button', { name: 'Back to Ines' }).click();
  await expect(guest.getByText('You follow Ines Okafor')).toBeVisible();

  // The guest says something at a place; the lead sees it at once and answers.
  await guest.waitForTimeout(1500);
  await guest.getByRole('button', { name: 'Say', exact: true }).click();
  await stage(guest).click({ position: { x: 470, y: 300 } });
  await guest.getByLabel('Your comment').fill('Can a child see over this sill? <b>“ñ”</b> שלום 🪟');
  await guest
    .getByRole('navigation', { name: 'Verbs' })
    .locator('..')
    .getByRole('button', { name: 'Say', exact: true })
    .last()
    .click();
  await page.getByRole('button', { name: 'Talk' }).click();
  const talk = page.getByRole('region', { name: 'Talk' });
  await expect(talk.getByText('Can a child see over this sill? <b>“ñ”</b> שלום 🪟')).toBeVisible();
  await talk.getByRole('button', { name: 'Answer' }).first().click();
  await talk.getByLabel(/Answer to comment/).fill('We lower it to 600 mm.');
  await talk.getByText('With what I see now').click();
  await talk.getByRole('button', { name: 'Send' }).click();
  await expect(guest.getByText('We lower it to 600 mm.')).toBeVisible();
  await expectNoViolations(page);
  await expectNoViolations(guest);

  // The lead is asked for, passed, and taken back.
  await guest.getByRole('button', { name: '2 people here' }).click();
  await guest.getByRole('button', { name: 'Ask for the lead' }).click();
  await guest.keyboard.press('Escape');
  await page.getByRole('button', { name: '2 people here' }).click();
  await expect(page.getByText('asks for the lead')).toBeVisible();
  await page.getByRole('button', { name: 'Pass the lead' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText('You follow Tuula Aho')).toBeVisible();
  await guest.getByRole('button', { name: /Viewpoint 3/ }).click();
  await expect(page.getByRole('button', { name: /Viewpoint 3/ })).toHaveAttribute('aria-current', 'step');
  await page.getByRole('button', { name: '2 people here' }).click();
  await page.getByRole('button', { name: 'Take the lead back' }).click();
  await page.keyboard.press('Escape');
  await expect(guest.getByText('You follow Ines Okafor')).toBeVisible();

  // A guest who loses the line comes back to the current state by itself.
  await guest.context().setOffline(true);
  await guest.evaluate(() => window.dispatchEvent(new Event('offline')));
  await expect(guest.getByText('The connection is lost')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: /Viewpoint 1/ }).click();
  await guest.context().setOffline(false);
  await expect(guest.getByText('The connection is lost')).toBeHidden({ timeout: 30_000 });
  await expect(guest.getByRole('button', { name: /Viewpoint 1/ })).toHaveAttribute('aria-current', 'step');

  await guest.context().close();

  // End; the minutes hold what happened; the code opens nothing any more.
  await endMeeting(page);
  await page.goto(`/projects/${project}/follow-up`);
  await expect(page.getByRole('heading', { name: 'Council evening' })).toBeVisible();
  const line = page.getByRole('button', { name: /^Comment \d+: Can a child see over this sill\?/ });
  await line.click();
  await expect(page.getByText('We lower it to 600 mm.')).toBeVisible();
  await expect(page.getByRole('img', { name: 'What Ines Okafor shows' })).toBeVisible();
  const state = page.getByLabel(/^Status of comment/).first();
  await state.selectOption('Closed');
  await expect(page.getByText(/Ines Okafor: status Open → Closed/)).toBeVisible();
  await state.selectOption('Reopened');
  await expect(page.getByText(/status Closed → Reopened/)).toBeVisible();
  await state.selectOption('Closed');
  await expectNoViolations(page);
  const minutes = await page.request.get(
    (await page.getByRole('link', { name: 'Minutes of Council evening as PDF' }).getAttribute('href'))!,
  );
  expect(minutes.headers()['content-type']).toBe('application/pdf');
  const pdf = await minutes.body();
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  expect(pdf.length).toBeGreaterThan(20_000); // it carries pictures
  const csv = await (await page.request.get(`/api/projects/${project}/comments.csv`)).text();
  expect(csv).toContain('"Tuula Aho","yes","Can a child see over this sill? <b>“ñ”</b> שלום 🪟"');

  const bcf = await page.request.get(`/api/projects/${project}/comments.bcf`);
  expect((await bcf.body()).subarray(0, 2).toString()).toBe('PK');
  await page.goto('/outbox');
  await expect(page.getByText('Minutes: Council evening').first()).toBeVisible({ timeout: 20_000 });

  const late = await (await browser.newContext()).newPage();
  await late.goto('/join');
  await late.getByLabel('Meeting code').fill(code);
  await late.getByLabel('Your name').fill('Late');
  await late.getByRole('button', { name: 'Come in' }).click();
  await expect(late.getByText(/No meeting with this code is going on/)).toBeVisible();
  await late.context().close();
});
