import { expect, test } from '@playwright/test';
import { NODES } from '../../playwright.config';
import { endMeeting, expectNoViolations, guestByCode, modelArrived, openLibrary, signIn, startMeeting } from './steps';

test('what the lead decides is confirmed by a guest, stands in the minutes, and is seen again where it was', async ({
  page,
  browser,
}) => {
  await page.setViewportSize({ width: 1100, height: 720 });
  await signIn(page);
  const project = await openLibrary(page);
  const code = await startMeeting(page, 'Roof evening');
  const guest = await guestByCode(browser, code, 'Bo Lind', NODES.second);
  await page.getByRole('button', { name: /Viewpoint 4/ }).click();
  await expect(guest.getByRole('button', { name: /Viewpoint 4/ })).toHaveAttribute('aria-current', 'step');

  const order = page.getByRole('region', { name: 'Running order' });
  await expect(guest.getByRole('button', { name: 'Decide', exact: true })).toHaveCount(0);
  await order.getByRole('button', { name: /^(Decide|Again)$/ }).click();
  await page.getByLabel('What was decided, in one sentence').fill('The hall keeps the folded roof, for good.');
  await expectNoViolations(page);
  await page.getByRole('button', { name: 'Write down' }).click();
  const asked = guest.getByRole('group', { name: /^Decision \d+$/ });
  await expect(asked.getByText('The hall keeps the folded roof, for good.')).toBeVisible();
  await expect(page.getByText('Confirmed by 0 of 1')).toBeVisible();
  await expectNoViolations(guest);
  await asked.getByRole('button', { name: 'Confirm' }).click();
  await expect(page.getByText(/Confirmed by 0 of 1/)).toHaveCount(0);
  await expect(order.getByText('Decided: The hall keeps the folded roof, for good.')).toBeVisible();
  await page.getByRole('button', { name: /Viewpoint 1:/ }).click();
  await expect(guest.getByRole('button', { name: /Viewpoint 1:/ })).toHaveAttribute('aria-current', 'step');

  // On a phone, whoever was passed the lead decides as well.
  await guest.setViewportSize({ width: 390, height: 844 });
  await page.getByRole('button', { name: '2 people here' }).click();
  await page.getByRole('button', { name: 'Pass the lead' }).click();
  await page.keyboard.press('Escape');
  await guest.getByRole('button', { name: /^(Decide|Again)$/ }).click();
  await guest.getByLabel('What was decided, in one sentence').fill('The path stays gravel.');
  await guest.getByRole('button', { name: 'Write down' }).click();
  await page
    .getByRole('group', { name: /^Decision \d+$/ })
    .getByRole('button', { name: 'Confirm' })
    .click();
  await expect(guest.getByText(/Confirmed by 0 of 1/)).toHaveCount(0);
  await expectNoViolations(guest);
  await guest.context().close();
  await endMeeting(page);

  // The decision is one press from its moment in the meeting, which plays on from there.
  await page.goto(`/projects/${project}/follow-up`);
  await page.getByRole('link', { name: 'See Roof evening again' }).click();
  await modelArrived(page);
  const bar = page.getByRole('region', { name: 'The meeting again' });
  await bar.getByRole('button', { name: 'What happened' }).click();
  const happened = page.getByRole('list', { name: 'What happened' });
  await happened.getByRole('button', { name: /Decision.*folded roof, for good/ }).click();
  await expect(bar.getByLabel('Moment of the meeting')).toHaveAttribute('aria-valuetext', /folded roof, for good/);
  await expect(bar.getByText(/Ines Okafor leads/)).toBeVisible();
  await page.getByRole('button', { name: 'Talk' }).click();
  await expect(page.getByRole('region', { name: 'Talk' }).getByText('Confirmed by Bo Lind').first()).toBeVisible();
  await expectNoViolations(page);
  await bar.getByRole('button', { name: 'Play' }).click();
  await expect(bar.getByLabel('Moment of the meeting')).toHaveAttribute('aria-valuetext', /Arriving/, {
    timeout: 60_000,
  });
  // Whoever looks around holds it on, and comes back.
  await bar.getByRole('button', { name: 'To the moment before' }).click();
  await page.keyboard.press('f');
  await expect(bar.getByRole('button', { name: /Play|Back to the meeting/ }).first()).toBeVisible();
});
