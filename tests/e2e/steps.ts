import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

export const PASSWORD = 'felt-and-ink';
export const LEAD = 'ines@okafor-brandt.example';
export const DESIGNER = 'mikko@karras.example';

export async function signIn(page: Page, email = LEAD, origin = ''): Promise<void> {
  await page.goto(`${origin}/sign-in`);
  await page.getByLabel('E-mail').fill(email);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/projects');
}

/** Opens the demo project's Review and waits until the model has arrived. Returns the project's id. */
export async function openLibrary(page: Page): Promise<string> {
  await page.getByRole('link', { name: /Town library/ }).click();
  await page.waitForURL('**/review');
  await modelArrived(page);
  return /projects\/([^/]+)/.exec(page.url())![1]!;
}

export async function modelArrived(page: Page): Promise<void> {
  await expect(page.getByText('The model is arriving')).toBeHidden({ timeout: 45_000 });
}

export function stage(page: Page) {
  return page.getByRole('application');
}

/** A fresh project, so that a test may change what it likes. Returns its id. */
export async function newProject(page: Page, name: string): Promise<string> {
  await page.goto('/projects');
  await page.getByLabel('Name').fill(name);
  await page.getByRole('button', { name: 'Make project' }).click();
  await page.waitForURL('**/prepare');
  return /projects\/([^/]+)/.exec(page.url())![1]!;
}

export async function expectNoViolations(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(
    violations.map(
      (violation) => `${violation.id}: ${violation.nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`,
    ),
  ).toEqual([]);
}
