import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { buildSync } from 'esbuild';

/** Builds the pages unless the sources are those of the last build. Returns whether it built. */
export function buildPages(home: string): boolean {
  return unlessBuilt(home, join(home, '.next'), () => {
    const { status, stdout, stderr } = spawnSync(
      process.execPath,
      [join(home, 'node_modules/next/dist/bin/next'), 'build'],
      { cwd: home, encoding: 'utf8', env: { ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' } },
    );
    if (status !== 0) throw new Error(`the pages could not be built:\n${stdout}\n${stderr}`);
  });
}

/**
 * Bundles the conversion process unless the sources are those of the last time: bundled, it starts a second earlier than
 * through the TypeScript loader.
 *
 * @returns path of the process
 */
export function buildConverter(home: string): string {
  const folder = join(home, 'dist', 'converter');
  unlessBuilt(home, folder, () => bundleConverter(home, folder));
  return join(folder, 'convert-process.mjs');
}

/** Builds into a folder unless that was done from the same sources; a file there says from which. Returns whether it built. */
function unlessBuilt(home: string, folder: string, build: () => void): boolean {
  const stamp = join(folder, 'sources');
  const now = sourceHash(home);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return false;
  build();
  writeFileSync(stamp, now);
  return true;
}

/** The conversion process and its threads. */
const CONVERTER = ['src/publish/convert-process', 'src/publish/core-thread', 'src/formats/ifc/tessellate-thread'];

/** Bundles the conversion process and its threads into a folder within the checkout, where they find their packages. */
export function bundleConverter(home: string, folder: string): void {
  rmSync(folder, { recursive: true, force: true });
  buildSync({
    entryPoints: Object.fromEntries(CONVERTER.map((path) => [basename(path), join(home, `${path}.ts`)])),
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    // What is needed later is loaded later.
    splitting: true,
    // Everything else is taken in: finding and starting hundreds of modules takes longer than reading a small file.
    external: ['sharp', 'draco3dgltf'],
    alias: { 'web-ifc': join(home, 'src/cli/packages/web-ifc.cjs') },
    banner: {
      js: "import { createRequire as requireBeside } from 'node:module';\nconst require = requireBeside(import.meta.url);",
    },
    platform: 'node',
    format: 'esm',
    target: 'node20',
    tsconfig: join(home, 'tsconfig.json'),
    logLevel: 'warning',
  });
}

const hashes = new Map<string, string>();

/** Of all that is built from; read once a process. */
function sourceHash(home: string): string {
  const known = hashes.get(home);
  if (known !== undefined) return known;
  const hash = createHash('sha256');
  const add = (path: string) => hash.update(path).update(readFileSync(join(home, path)));
  for (const file of ['package-lock.json', 'next.config.ts', 'tsconfig.json']) add(file);
  const walk = (folder: string): void => {
    for (const entry of readdirSync(join(home, folder), { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) walk(path);
      else if (!entry.name.includes('.test.')) add(path);
    }
  };
  walk('src');
  const digest = hash.digest('hex');
  hashes.set(home, digest);
  return digest;
}
