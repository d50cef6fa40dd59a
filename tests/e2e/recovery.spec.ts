import { readdirSync, readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { NODES } from '../../playwright.config';
import { guestByCode, openLibrary, signIn, startMeeting } from './steps';

/** Process id of the web node that answers on a port, from Linux's process table. */
function webNode(port: string): number {
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
      const environment = readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0');
      if (command.includes('gateway.mjs') && environment.includes(`PORT=${port}`)) return Number(pid);
    } catch {
      // it ended while we looked
    }
  }
  throw new Error(`no web node on port ${port}`);
}

test('a web node that is killed in the middle of a meeting comes back, and so do the people on it', async ({
  page,
  browser,
}) => {
  test.setTimeout(180_000);
  await signIn(page);
  await openLibrary(page);
  const code = await startMeeting(page, 'Storm');
  const guest = await guestByCode(browser, code, 'Aino Laine', NODES.second);
  await expect(guest.getByText('You follow Ines Okafor')).toBeVisible();

  const before = webNode(new URL(NODES.second).port);
  process.kill(before, 'SIGKILL');
  await expect(guest.getByText('The connection is lost')).toBeVisible();
  // The meeting goes on without them …
  await page.getByRole('button', { name: /Viewpoint 3/ }).click();
  await expect(page.getByRole('button', { name: /Viewpoint 3/ })).toHaveAttribute('aria-current', 'step');
  // … and they find it where it is then.
  await expect(guest.getByText('The connection is lost')).toBeHidden({ timeout: 45_000 });
  await expect(guest.getByRole('button', { name: /Viewpoint 3/ })).toHaveAttribute('aria-current', 'step');
  await expect(guest.getByText('You follow Ines Okafor')).toBeVisible();
  expect(webNode(new URL(NODES.second).port)).not.toBe(before);

  // The same with the node of whoever leads: what they do meanwhile, the others see as soon as it is back.
  process.kill(webNode(new URL(NODES.first).port), 'SIGKILL');
  await expect(page.getByText('The connection is lost')).toBeVisible();
  await page.getByRole('button', { name: /Viewpoint 2/ }).click();
  await expect(page.getByText('The connection is lost')).toBeHidden({ timeout: 45_000 });
  await expect(guest.getByRole('button', { name: /Viewpoint 2/ })).toHaveAttribute('aria-current', 'step');
  await expect(page.getByText('The server does not answer')).toBeHidden();

  // The code of the meeting still lets people in; its end sends those who came by it away, kindly.
  await page.getByRole('button', { name: /^(Only you|\d+ people) here$/ }).click();
  await page.getByRole('button', { name: 'End the meeting' }).click();
  await expect(guest.getByRole('alertdialog', { name: 'Your visit has ended' })).toBeVisible();
  await guest.context().close();
});
