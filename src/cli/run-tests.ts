import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { buildPages } from './build';
import { installMissing } from './install';

/** One thing to check. */
interface Check {
  name: string;
  command: string;
  args: string[];
}

/** Formatting, lint, types, unit tests, end-to-end tests; stops at the first that fails. Returns the exit code. */
export async function runTests(home: string): Promise<number> {
  installMissing(true);
  const bin = (name: string) => join(home, 'node_modules', '.bin', name);
  const readings: Check[] = [
    { name: 'types', command: bin('tsc'), args: ['--noEmit'] },
    { name: 'lint', command: bin('eslint'), args: ['src', 'tests', 'bench'] },
    { name: 'formatting', command: bin('prettier'), args: ['--check', '--log-level', 'warn', '.'] },
  ];
  // Each of these keeps one core busy.
  const read = await Promise.all(readings.map((check) => run(home, check)));
  const failed = read.find((status) => status !== 0);
  if (failed !== undefined) return failed;
  const unit = await run(home, { name: 'unit tests', command: bin('vitest'), args: ['run'] });
  if (unit !== 0) return unit;
  console.log('\n── build');
  await buildPages(home);
  return run(home, { name: 'end-to-end tests', command: bin('playwright'), args: ['test'] });
}

async function run(home: string, { name, command, args }: Check): Promise<number> {
  const start = performance.now();
  console.log(`── ${name}`);
  const status = await new Promise<number>((done, fail) => {
    const child = spawn(command, args, { cwd: home, stdio: 'inherit' });
    // Asked to end, it tidies up after itself as when it is interrupted: servers and browsers end too.
    const interrupt = () => child.kill('SIGINT');
    process.on('SIGTERM', interrupt);
    child.on('error', fail);
    child.on('exit', (code) => {
      process.off('SIGTERM', interrupt);
      done(code ?? 1);
    });
  });
  console.log(`── ${name}: ${status === 0 ? 'ok' : 'FAILED'} in ${Math.round((performance.now() - start) / 1000)} s\n`);
  return status;
}
