import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { removeScratch } from './scratch';

it('what killed programs have unpacked is removed, what those that run unpack stays', () => {
  // Process ids end long before this one.
  const [dead, own] = ['4194999', String(process.pid)].map((pid) => join(tmpdir(), `yurta-convert-${pid}-test`));
  for (const folder of [dead!, own!]) mkdirSync(folder, { recursive: true });
  expect(removeScratch()).toBeGreaterThanOrEqual(1);
  expect([existsSync(dead!), existsSync(own!)]).toEqual([false, true]);
  rmSync(own!, { recursive: true });
});
