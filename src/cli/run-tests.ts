import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { buildPages } from './build';
import { installMissing } from './install';

/** Formatting, lint, types, unit tests, end-to-end tests; stops at the first that fails. Returns the exit code. */
export function runTests(home: string): number {
  installMissing(true);
  const bin = (name: string) => join(home, 'node_modules', '.bin', name);
  const steps: [string, () => number][] = [
    ['formatting', () => run(bin('prettier'), ['--check', '--log-level', 'warn', '.'])],
    ['lint', () => run(bin('eslint'), ['src', 'tests'])],
    ['types', () => run(bin('tsc'), ['--noEmit'])],
    ['unit tests', () => run(bin('vitest'), ['run'])],
    ['build', () => (buildPages(home), 0)],
    ['end-to-end tests', () => run(bin('playwright'), ['test'])],
  ];
  for (const [name, step] of steps) {
    const start = performance.now();
    console.log(`\n── ${name}`);
    const status = step();
    console.log(`── ${name}: ${status === 0 ? 'ok' : 'FAILED'} in ${Math.round((performance.now() - start) / 1000)} s`);
    if (status !== 0) return status;
  }
  return 0;

  function run(command: string, args: string[]): number {
    return spawnSync(command, args, { cwd: home, stdio: 'inherit' }).status ?? 1;
  }
}
