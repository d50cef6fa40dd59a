import { basename } from 'node:path';
import { Worker } from 'node:worker_threads';

/**
 * Starts a thread from a source file. In the bundled converter it lies in one file beside the process; from the sources,
 * the TypeScript loader starts it.
 *
 * @param from address of the module that asks
 * @param source path of the thread's file relative to that, without its ending
 */
export function startThread(from: string, source: string, workerData?: unknown): Worker {
  if (from.endsWith('.mjs'))
    return new Worker(new URL(`./${basename(source)}.mjs`, from), { execArgv: [], workerData });
  const file = JSON.stringify(new URL(`${source}.ts`, from).href);
  const start = `import('tsx/esm/api').then(({ register }) => (register(), import(${file})))`;
  return new Worker(start, { eval: true, execArgv: [], workerData });
}
