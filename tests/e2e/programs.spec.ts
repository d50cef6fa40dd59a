import { execFile, spawn } from 'node:child_process';
import { mkdtemp, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, test } from '@playwright/test';
import { structureIfc } from '../../src/demo/library/structure';
import { NODES } from '../../playwright.config';
import { expectNoViolations, newProject, signIn } from './steps';

const run = promisify(execFile);

test('a script publishes with a token, a folder is watched, and a withdrawn token opens nothing', async ({ page }) => {
  test.setTimeout(150_000);
  await signIn(page);
  const project = await newProject(page, 'From outside');
  await page.getByRole('button', { name: /Account of Ines/ }).click();
  await page.getByRole('menuitem', { name: 'Settings' }).click();
  await page.waitForURL('**/settings');
  await page.getByLabel('What is it for?').fill('Nightly export');
  await page.getByRole('button', { name: 'Make token' }).click();
  const token = (await page.getByTestId('fresh-token').textContent())!;
  await expect(page.getByRole('list', { name: 'Tokens that were made' })).toContainText('never used');
  await expectNoViolations(page);

  const folder = await mkdtemp(join(tmpdir(), 'programs-'));
  await writeFile(join(folder, 'frame-P01.ifc'), structureIfc());
  const env = { ...process.env, YURTA_TOKEN: token, XDG_CACHE_HOME: join(folder, '.cache') };
  const to = ['--server', NODES.first, '--project', project];
  const { stdout } = await run(
    './yurta',
    ['publish', join(folder, 'frame-P01.ifc'), ...to, '--note', 'By night', '--json'],
    {
      env,
    },
  );
  expect(JSON.parse(stdout)).toMatchObject({ state: 'published', code: 'P01', counts: { elements: 345 } });
  const missing = await run('./yurta', ['publish', join(folder, 'none.ifc'), ...to], { env }).catch(
    (error: { code: number; stderr: string }) => error,
  );
  expect(missing).toHaveProperty('code', 2);
  expect(missing.stderr).toContain('does not exist');

  // The watcher sends what lies in the folder: the same model's next revision.
  const watcher = spawn('./yurta', ['watch', folder, ...to, '--settle', '0.5'], { env });
  let said = '';
  watcher.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
  await expect.poll(() => said, { timeout: 60_000 }).toContain('frame-P01.ifc: published as P02, 345 elements');
  watcher.kill('SIGINT');

  await page.getByRole('button', { name: 'Withdraw Nightly export' }).click();
  await expect(page.getByRole('list', { name: 'Tokens that were made' })).toContainText('withdrawn');
  const refused = await run('./yurta', ['publish', join(folder, 'frame-P01.ifc'), ...to], { env }).catch(
    (error: { code: number; stderr: string }) => error,
  );
  expect(refused).toHaveProperty('code', 2);
  expect(refused.stderr).toContain('does not know this access token');

  await page.goto(`/projects/${project}/prepare`);
  const revisions = page.getByRole('list', { name: 'Revisions of frame-P01' });
  await expect(revisions.getByText('P02', { exact: true })).toBeVisible();
  await page.getByText('1 other revision').click();
  await expect(page.getByRole('list', { name: 'History of frame-P01' })).toContainText('P01 By night');
});
