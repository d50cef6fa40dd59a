import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Browser, type BrowserContext, type Page } from '@playwright/test';

export const PASSWORD = 'felt-and-ink';
export const LEAD = 'ines@okafor-brandt.example';
export const DESIGNER = 'mikko@karras.example';

/** What a browser keeps of a person who has signed in once. */
const signedIn = new Map<string, Awaited<ReturnType<BrowserContext['cookies']>>>();

/** Signs a person in through the page; the next time, their browser is still signed in. */
export async function signIn(page: Page, email = LEAD, origin = ''): Promise<void> {
  const cookies = signedIn.get(email);
  if (cookies) {
    await page.context().addCookies(cookies);
    await page.goto(`${origin}/projects`);
    return;
  }
  await page.goto(`${origin}/sign-in`);
  await page.getByLabel('E-mail').fill(email);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/projects');
  signedIn.set(email, await page.context().cookies());
}

/** Opens the demo project's Review and waits until the model has arrived. Returns the project's id. */
export async function openLibrary(page: Page): Promise<string> {
  await page.getByRole('link', { name: /Town library/ }).click();
  await page.waitForURL('**/review');
  await modelArrived(page);
  return /projects\/([^/]+)/.exec(page.url())![1]!;
}

/** The demo project's id, without opening its model. */
export async function libraryId(page: Page): Promise<string> {
  const address = await page
    .getByRole('link', { name: /Town library/ })
    .first()
    .getAttribute('href');
  return /projects\/([^/]+)/.exec(address!)![1]!;
}

/** Opens a page and waits until it answers: what is pressed before its scripts have taken it over is lost. */
export async function openPage(page: Page, address: string): Promise<void> {
  await page.goto(address);
  await page.waitForFunction(() =>
    Object.keys(document.querySelector('main')!).some((key) => key.startsWith('__react')),
  );
}

export async function modelArrived(page: Page): Promise<void> {
  await expect(page.getByText('The model is arriving')).toBeHidden({ timeout: 45_000 });
}

export function stage(page: Page) {
  return page.getByRole('application', { name: /^3D model/ });
}

/** A fresh project, so that a test may change what it likes. Returns its id. */
export async function newProject(page: Page, name: string): Promise<string> {
  await page.goto('/projects');
  await page.getByLabel('Name').fill(name);
  await page.getByRole('button', { name: 'Add project' }).click();
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

/** Starts a meeting from the Review. Returns its six digits. */
export async function startMeeting(page: Page, title: string): Promise<string> {
  const start = page.getByRole('button', { name: 'Start meeting' });
  const here = page.getByRole('button', { name: /^(Only you|\d+ people) here$/ });
  await expect(start.or(here).first()).toBeVisible();
  // What a test that failed has left behind is not this one's.
  if (await here.isVisible()) await endMeeting(page);
  await start.click();
  await page.getByLabel('Title of the meeting').fill(title);
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  const code = (await page.getByLabel('Meeting code').textContent())!.replace(/\D/g, '');
  expect(code).toMatch(/^\d{6}$/);
  return code;
}

/** Ends the meeting for everyone. */
export async function endMeeting(page: Page): Promise<void> {
  await page.getByRole('button', { name: /^(Only you|\d+ people) here$/ }).click();
  await page.getByRole('button', { name: 'End the meeting' }).click();
  await expect(page.getByRole('button', { name: 'Start meeting' })).toBeVisible();
}

/** A guest in a browser of their own, in a running meeting, with the model on screen. */
export async function guestByCode(browser: Browser, code: string, name: string, origin: string): Promise<Page> {
  const page = await (
    await browser.newContext({ viewport: { width: 800, height: 560 }, reducedMotion: 'reduce' })
  ).newPage();
  await page.goto(`${origin}/join`);
  await page.getByLabel('Meeting code').fill(code);
  await page.getByLabel('Your name').fill(name);
  await page.getByRole('button', { name: 'Come in' }).click();
  await page.waitForURL('**/review');
  await modelArrived(page);
  return page;
}

/** A guest who comes in by a link to the library on a device that is touched, with the model on screen. */
export async function guestByTouch(
  browser: Browser,
  member: Page,
  link: { right: 'look' | 'comment'; name: string },
  viewport: { width: number; height: number },
): Promise<Page> {
  const answer = await member.request.post(`/api/projects/${await libraryId(member)}/links`, {
    data: { right: link.right, label: link.name },
  });
  const { url } = (await answer.json()) as { url: string };
  // A model that it may show would be drawn on the same processor.
  await member.close();
  const page = await (
    await browser.newContext({ viewport, hasTouch: true, isMobile: true, reducedMotion: 'reduce' })
  ).newPage();
  await page.goto(url);
  await page.getByLabel('Your name').fill(link.name);
  await page.getByRole('button', { name: 'Come in' }).tap();
  await page.waitForURL('**/review');
  await modelArrived(page);
  return page;
}
