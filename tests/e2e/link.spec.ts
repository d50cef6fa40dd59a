import { expect, test } from '@playwright/test';
import { expectNoViolations, modelArrived, openLibrary, signIn, stage } from './steps';

test('a link to look at: a name opens it, nothing else is offered; withdrawn, it closes', async ({ page, browser }) => {
  await signIn(page);
  const project = await openLibrary(page);
  await page.goto(`/projects/${project}/prepare`);
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

  await page.getByRole('button', { name: 'Withdraw' }).first().click();
  await expect(page.getByText('withdrawn').first()).toBeVisible();
  await guest.goto(`/projects/${project}/review`);
  await expect(guest.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await guest.goto(url);
  await expect(guest.getByText(/withdrawn by the architect/)).toBeVisible();
  await guest.context().close();
});

test('on a phone a guest comes in, looks and says by touch', async ({ page, browser }) => {
  await signIn(page);
  const project = await openLibrary(page);
  const answer = await page.request.post(`/api/projects/${project}/links`, {
    data: { right: 'comment', label: 'Phones' },
  });
  const { url } = (await answer.json()) as { url: string };
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    hasTouch: true,
    isMobile: true,
    reducedMotion: 'reduce',
  });
  const phone = await context.newPage();
  await phone.goto(url);
  await phone.getByLabel('Your name').fill('Bo');
  await phone.getByRole('button', { name: 'Come in' }).tap();
  await phone.waitForURL('**/review');
  await modelArrived(phone);
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
  await context.close();
});
