import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress } from 'node:zlib';
import { build, type BuildOptions, type Plugin } from 'esbuild';

const brotli = promisify(brotliCompress);

/** File that says from which sources a folder was built. */
const STAMP = 'sources';

const AS_MODULES = {
  bundle: true,
  // What is needed later is loaded later.
  splitting: true,
  outExtension: { '.js': '.mjs' },
  platform: 'node',
  format: 'esm',
  target: 'node20',
  logLevel: 'warning',
} satisfies BuildOptions;

/** Builds the pages unless the sources are those of the last build. Returns whether it built. */
export async function buildPages(home: string): Promise<boolean> {
  const folder = join(home, '.next');
  if (isBuilt(home, folder)) return false;
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [join(home, 'node_modules/next/dist/bin/next'), 'build'],
    { cwd: home, encoding: 'utf8', env: { ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' } },
  );
  if (status !== 0) throw new Error(`the pages could not be built:\n${stdout}\n${stderr}`);
  await packScripts(join(folder, 'static'));
  stamp(home, folder);
  return true;
}

/** Packs scripts and styles with Brotli, once and as small as they get, for the gateway to send. */
async function packScripts(folder: string): Promise<void> {
  const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((file) => /\.(js|css)$/.test(file));
  await Promise.all(
    files.map(async (file) =>
      writeFileSync(join(folder, `${file}.br`), await brotli(readFileSync(join(folder, file)))),
    ),
  );
}

/**
 * Bundles the conversion process unless the sources are those of the last time: bundled, it starts a second earlier than
 * through the TypeScript loader.
 *
 * @returns path of the process
 */
export async function buildConverter(home: string): Promise<string> {
  const folder = join(home, 'dist', 'converter');
  await unlessBuilt(home, folder, (fresh) => bundleConverter(home, fresh));
  return join(folder, 'convert-process.mjs');
}

/** Programs of an installation: each a file of its own, which starts in half of the time that the loader of the sources takes. */
const SERVER = {
  gateway: 'src/gateway/main',
  worker: 'src/cli/worker',
  'minutes-thread': 'src/server/minutes/minutes-thread',
};

/**
 * Bundles web node and worker unless the sources are those of the last time. Packages stay where they are.
 *
 * @returns folder with a file for each
 */
export async function buildServer(home: string): Promise<string> {
  const folder = join(home, 'dist', 'server');
  await unlessBuilt(home, folder, (outdir) =>
    build({
      entryPoints: Object.fromEntries(Object.entries(SERVER).map(([name, path]) => [name, join(home, `${path}.ts`)])),
      ...AS_MODULES,
      outdir,
      packages: 'external',
      tsconfig: join(home, 'tsconfig.json'),
    }),
  );
  return folder;
}

/**
 * Builds into a folder unless that was done from the same sources; a file there says from which. It is made beside and put in its
 * place whole: another node of this checkout may be starting from there.
 */
async function unlessBuilt(home: string, folder: string, make: (fresh: string) => Promise<unknown>): Promise<void> {
  if (isBuilt(home, folder)) return;
  mkdirSync(dirname(folder), { recursive: true });
  const fresh = mkdtempSync(`${folder}.`);
  await make(fresh);
  stamp(home, fresh);
  if (!isBuilt(home, folder)) {
    rmSync(folder, { recursive: true, force: true });
    try {
      renameSync(fresh, folder);
      return;
    } catch (error) {
      if (!isBuilt(home, folder)) throw error;
    }
  }
  rmSync(fresh, { recursive: true, force: true }); // another process was quicker
}

function isBuilt(home: string, folder: string): boolean {
  const path = join(folder, STAMP);
  return existsSync(path) && readFileSync(path, 'utf8') === sourceHash(home);
}

function stamp(home: string, folder: string): void {
  writeFileSync(join(folder, STAMP), sourceHash(home));
}

/** The conversion process and its threads. */
const CONVERTER = [
  'src/publish/conversion/convert-process',
  'src/publish/threads/second-thread',
  'src/formats/ifc/tessellate-thread',
];

/** Bundles the conversion process and its threads into a folder within the checkout, where they find their packages. */
export async function bundleConverter(home: string, folder: string): Promise<void> {
  rmSync(folder, { recursive: true, force: true });
  await build({
    entryPoints: Object.fromEntries(CONVERTER.map((path) => [basename(path), join(home, `${path}.ts`)])),
    ...AS_MODULES,
    outdir: folder,
    // Everything else is taken in: finding and starting hundreds of modules takes longer than reading a small file.
    plugins: [leftOutside, readySchemas, leanLibrary],
    // What packages of the older kind expect around them.
    banner: {
      js: "import { createRequire as requireBeside } from 'node:module';\nconst require = requireBeside(import.meta.url);\nconst __dirname = import.meta.dirname;",
    },
    tsconfig: join(home, 'tsconfig.json'),
  });
}

/**
 * Packages with parts that no bundle can hold stay outside, and are required instead of imported: of what is imported in
 * the older kind of module, all of the text is first searched for what it exports.
 */
const leftOutside: Plugin = {
  name: 'left outside',
  setup({ onResolve, onLoad }) {
    onResolve({ filter: /^(sharp|draco3dgltf)$/ }, ({ path, kind }) =>
      kind === 'require-call' ? { path, external: true } : { path, namespace: 'required' },
    );
    onLoad({ filter: /./, namespace: 'required' }, ({ path }) => ({
      contents: `module.exports = require('${path}');`,
    }));
  },
};

/** Puts the schemas of IFC into the bundle as plain data, instead of what takes them from the reader library. */
const readySchemas: Plugin = {
  name: 'ready schemas',
  setup({ onLoad }) {
    onLoad({ filter: /formats\/ifc\/schemas\.ts$/ }, async () => {
      const { SCHEMAS } = await import('@/formats/ifc/schemas');
      const text = JSON.stringify(JSON.stringify(SCHEMAS));
      return { contents: `export const SCHEMAS = JSON.parse(${text});` };
    });
  },
};

/**
 * Takes the schemas' classes and tables out of the reader library: nine tenths of it, which only reading lines needs, and
 * the bundled converter asks it for shapes alone. A library that is laid out otherwise stays whole.
 */
const leanLibrary: Plugin = {
  name: 'lean library',
  setup({ onLoad }) {
    onLoad({ filter: /web-ifc-api-node\.js$/ }, ({ path }) => ({
      contents: readFileSync(path, 'utf8')
        .replace(
          /^(FromRawLineData|ToRawLineData|Constructors|InheritanceDef|InversePropertyDef)\[\d\] = \{$.*?^\};$/gms,
          '',
        )
        .replace(/^\(\((\w+)2\) => \{$.*?^\}\)\(\1 \|\| \(\1 = \{\}\)\);$/gms, ''),
    }));
  },
};

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
