import { expect, test } from '@playwright/test';
import { expectNoViolations, guestByTouch, libraryId, modelArrived, openPage, signIn, stage } from './steps';

test('a link to look at: a name opens it, nothing else is offered; withdrawn, it closes', async ({ page, browser }) => {
  await signIn(page);
  const project = await libraryId(page);
  await openPage(page, `/projects/${project}/prepare`);
  await page.getByLabel('Whom is it for?').fill('Neighbours');
  await page.getByLabel('They may').selectOption('look');
  await page.getByRole('button', { name: 'Make link' }).click();
  await expect(page.getByRole('img', { name: 'QR code of the link' })).toBeVisible();
  const url = (await page.getByTestId('fresh-link').textContent())!;
  await expectNoViolations(page);

  const guest = await (
    await browser.newContext({ viewport: { width: 800, height: 560 }, reducedMotion: 'reduce' })
  ).newPage();
  await guest.goto(url);
  await expect(guest.getByRole('heading', { name: 'Town library' })).toBeVisible();
  await expectNoViolations(guest);
  await guest.getByLabel('Your name').fill('Neighbour');
  await guest.getByRole('button', { name: 'Come in' }).click();
  await guest.waitForURL('**/review');
  await modelArrived(guest);
  await expect(guest.getByRole('button', { name: 'Say', exact: true })).toHaveCount(0);
  await expect(guest.getByRole('button', { name: 'Save this view' })).toHaveCount(0);
  const refused = await guest.request.post(`/api/projects/${project}/comments`, { data: { text: 'I may not' } });
  expect(refused.status()).toBe(403);
  await guest.goto(`/projects/${project}/prepare`);
  await expect(guest.getByText('Nothing here for you')).toBeVisible();
  await guest.goto(`/projects/${project}/review`);
  await modelArrived(guest);

  // Withdrawn, the link closes at once, also for who is inside.
  await page.getByRole('button', { name: 'Withdraw' }).first().click();
  await expect(page.getByText('withdrawn').first()).toBeVisible();
  await expect(guest.getByRole('alertdialog', { name: 'Your visit has ended' })).toBeVisible();
  await expectNoViolations(guest);
  await guest.goto(`/projects/${project}/review`);
  await expect(guest.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await guest.goto(url);
  await expect(guest.getByText(/withdrawn by the architect/)).toBeVisible();
  await guest.context().close();
});

test('on a phone a guest comes in, looks and says by touch', async ({ page, browser }) => {
  await signIn(page);
  const phone = await guestByTouch(browser, page, { right: 'comment', name: 'Bo' }, { width: 390, height: 844 });
  await phone.waitForTimeout(1000);
  await phone.getByRole('button', { name: 'Say', exact: true }).tap();
  await stage(phone).tap({ position: { x: 200, y: 420 } });
  await phone.getByLabel('Your comment').fill('Where do I leave the pram?');
  await phone.getByRole('button', { name: 'Say', exact: true }).last().tap();
  await expect(phone.getByRole('region', { name: 'Talk' }).getByText('Where do I leave the pram?')).toBeVisible();
  await expectNoViolations(phone);
  for (const button of await phone.getByRole('navigation', { name: 'Verbs' }).getByRole('button').all()) {
    const box = (await button.boundingBox())!;
    expect(Math.min(box.width, box.height)).toBeGreaterThanOrEqual(44);
  }
  await phone.context().close();
});

test('on a tablet a guest looks round with one and two fingers, steps through the running order and says', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const tablet = await guestByTouch(browser, page, { right: 'comment', name: 'Sini' }, { width: 1024, height: 768 });
  const second = tablet.getByRole('button', { name: /Viewpoint 2/ });
  const fingers = await tablet.context().newCDPSession(tablet);
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...points: [number, number][]) =>
    fingers.send('Input.dispatchTouchEvent', { type, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });

  // One finger turns, two zoom; either leaves the card.
  for (const gesture of [
    async () => {
      await touch('touchStart', [500, 380]);
      for (let x = 500; x <= 600; x += 20) await touch('touchMove', [x, 390]);
    },
    async () => {
      await touch('touchStart', [480, 380], [540, 380]);
      for (let d = 0; d <= 100; d += 20) await touch('touchMove', [480 - d, 380], [540 + d, 380]);
    },
  ]) {
    await second.tap();
    await expect(second).toHaveAttribute('aria-current', 'step');
    await gesture();
    await touch('touchEnd');
    await expect(second).not.toHaveAttribute('aria-current', 'step');
  }

  await second.tap();
  await tablet.waitForTimeout(1000);
  await tablet.getByRole('button', { name: 'Say', exact: true }).tap();
  await stage(tablet).tap({ position: { x: 500, y: 400 } });
  await tablet.getByLabel('Your comment').fill('Is there room for two wheelchairs?');
  await tablet.getByRole('button', { name: 'Say', exact: true }).last().tap();
  await expect(tablet.getByRole('region', { name: 'Talk' }).getByText('Is there room for two')).toBeVisible();
  await expectNoViolations(tablet);
  await tablet.context().close();
});
