import { expect, test } from '@playwright/test';
import { DESIGNER, expectNoViolations, signIn } from './steps';

test('strangers are shown the door, wrong passwords and codes are refused kindly', async ({ page }) => {
  await page.goto('/projects');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await expectNoViolations(page);
  await page.getByLabel('E-mail').fill(DESIGNER);
  await page.getByLabel('Password').fill('not the password');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('E-mail and password do not fit together')).toBeVisible();
  await page.goto('/join');
  await expectNoViolations(page);
  await page.getByLabel('Meeting code').fill('12');
  await page.getByLabel('Your name').fill('X');
  await page.getByRole('button', { name: 'Come in' }).click();
  await expect(page.getByText('A meeting code has six digits')).toBeVisible();
});

test('pages carry a strict policy and refuse foreign requests', async ({ page, request }) => {
  const policy = (await page.goto('/sign-in'))!.headers()['content-security-policy']!;
  expect(policy).toContain("object-src 'none'");
  expect(policy).not.toMatch(/script-src[^;]*unsafe-inline/);
  const foreign = await request.post('/api/enter', {
    headers: { Origin: 'http://elsewhere.example' },
    data: { name: 'X', code: '000000' },
  });
  expect(foreign.status()).toBe(403);
});

test('a page arrives with its styles ahead of its elements, none between them', async ({ request }) => {
  const [head, body] = (await (await request.get('/sign-in')).text()).split('</head>');
  expect(head).toMatch(/<style data-emotion="css [^"]+">/);
  expect(body).toContain('Sign in');
  expect(body).not.toContain('<style');
});

test('the project list shows what one belongs to, and a designer may not invite', async ({ page }) => {
  await signIn(page, DESIGNER);
  await expect(page.getByRole('link', { name: /Town library/ })).toBeVisible();
  await expectNoViolations(page);
  await page.getByRole('link', { name: /Town library/ }).click();
  await page.waitForURL('**/review');
  await page.getByRole('link', { name: 'Prepare' }).click();
  await expect(page.getByRole('heading', { name: 'Bring in a model' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Invite by link' })).toHaveCount(0);
});
