import { readFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { chromium, type Browser } from '@playwright/test';
import { build } from 'esbuild';

const HOME = join(import.meta.dirname, '../..');
const TYPES: Record<string, string> = { json: 'application/json', glb: 'model/gltf-binary', webp: 'image/webp' };

/** A page with nothing but a stage, and the published files that it may load. */
export interface StageServer {
  origin: string;
  close(): void;
}

/**
 * Serves a page that fills its window with `#stage`, and a folder of published revisions.
 *
 * @param entry the page's script
 * @param folder what else may be asked for
 */
export async function serveStage(entry: string, folder: string): Promise<StageServer> {
  const files = new Map<string, string>([
    ['/', '<!doctype html><style>*{margin:0}#stage{width:100vw;height:100vh}</style><div id="stage"></div>'],
    ['/page.js', await bundle(entry)],
    // Under the address at which the page asks for it.
    ['/page-worker.ts', await bundle(join(HOME, 'src/stage/workers/page-worker.ts'))],
  ]);
  const server = createServer((request, response) => {
    const path = new URL(request.url!, 'http://x').pathname;
    const type =
      path === '/' ? 'text/html' : /\.(js|ts)$/.test(path) ? 'text/javascript' : TYPES[path.split('.').at(-1)!];
    Promise.resolve(files.get(path) ?? readFile(join(folder, path))).then(
      (body) => response.writeHead(200, { 'Content-Type': type ?? 'application/octet-stream' }).end(body),
      () => response.writeHead(404).end(),
    );
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  return {
    origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () => server.close(),
  };
}

async function bundle(entry: string): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: [entry],
    bundle: true,
    write: false,
    format: 'esm',
    target: 'es2022',
    // What a library would only do in Node is never reached in a page.
    external: ['node:*'],
    tsconfig: join(HOME, 'tsconfig.json'),
  });
  return outputFiles[0]!.text;
}

/** Headless Chromium that draws 3D on the processor. */
export function launchChromium(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--use-gl=angle',
      '--use-angle=swiftshader',
      '--enable-unsafe-swiftshader',
      '--ignore-gpu-blocklist',
    ],
  });
}
