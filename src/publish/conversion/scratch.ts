import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const PREFIX = 'yurta-convert-';

/** Makes a folder in which a conversion unpacks what it reads; its name tells whose it is. Returns its path. */
export function makeScratch(): string {
  return mkdtempSync(join(tmpdir(), `${PREFIX}${process.pid}-`));
}

/** Removes what conversions have unpacked whose program was killed as well. Returns how many folders went. */
export function removeScratch(): number {
  const owner = (name: string) => Number(name.slice(PREFIX.length).split('-')[0]);
  const left = readdirSync(tmpdir()).filter((name) => name.startsWith(PREFIX) && !isAlive(owner(name)));
  for (const name of left) rmSync(join(tmpdir(), name), { recursive: true, force: true });
  return left.length;
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}
