import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Command, Option } from 'commander';
import pc from 'picocolors';
import { LENGTH_UNITS, type LengthUnit, type UpAxis } from '@/core/units/length-unit';
import { config } from '@/server/config';
import type * as Accounts from '@/server/access/accounts';
import type { DistanceOptions } from './distance';
import type { SectionOptions } from './section';
import type { SunOptions } from './sun';

const home = process.env.YURTA_HOME ?? process.cwd();
const program = new Command('yurta')
  .description('Publish light 3D models and lead design reviews with people who do not read drawings.')
  // A wrong command or option ends with 2 and one line, like any other bad input.
  .exitOverride(({ exitCode }) => process.exit(exitCode === 0 ? 0 : 2))
  .configureOutput({
    outputError: (text, write) => write(`yurta: ${text.replace(/^error: /, '').trim().replace(/\s*\n\s*/g, ' ')}\n`), // prettier-ignore
  });

const BENCHES = [
  'meeting',
  'state',
  'page',
  'publish',
  'weight',
  'first-look',
  'draw',
  'memory',
  'cut',
  'pick',
  'walk',
  'minutes',
  'soak',
];
const PASSWORD_HELP = 'at least twelve characters, and not soon guessed';
const step = (text: string) => console.log(`${pc.dim('·')} ${text}`);

program
  .command('start')
  .description('start web server, worker and database')
  .action(() => serve(false));
program
  .command('demo')
  .description('the same with the demo project: a small town library')
  .action(() => serve(true));

async function serve(demo: boolean): Promise<void> {
  const { installMissing } = await import('./install');
  const { buildConverter, buildPages, buildServer } = await import('./build');
  const { Supervisor } = await import('./supervise');
  installMissing(false);
  // The demo's tracker answers on this machine alone.
  if (demo) process.env.YURTA_REACH_OWN_NETWORK ??= '1';
  const supervisor = new Supervisor(home, config().dataFolder);
  try {
    step('starting the database');
    await supervisor.database();
    if (!existsSync(join(home, '.next', 'sources'))) step('building the pages (once, about a minute)');
    await buildPages(home);
    process.env.YURTA_CONVERTER = await buildConverter(home);
    process.env.YURTA_SERVER = await buildServer(home);
    const port = await supervisor.choosePort();
    step('starting worker and web server');
    await supervisor.mailServer();
    const sampleStore = demo ? await supervisor.modelStore() : null;
    const tracker = demo ? await supervisor.issueTracker() : null;
    supervisor.workers(config().workers);
    supervisor.web();
    await supervisor.untilListening();
    if (demo) {
      const { seedDemo, DEMO_ACCOUNTS, DEMO_PASSWORD } = await import('@/demo/seed');
      const { seedStore } = await import('@/demo/seed-store');
      await seedDemo(step, tracker);
      if (sampleStore) await seedStore(sampleStore, step);
      // Seeding used the database and the queue from this process; from here on it only supervises.
      await (await (await import('@/server/publishing/queue')).queue()).stop({ graceful: false });
      await (await import('@/db/database')).closeConnection();
      console.log(`\n${pc.bold('Demo accounts')} (password ${pc.bold(DEMO_PASSWORD)}):`);
      for (const { name, email, role } of DEMO_ACCOUNTS) console.log(`  ${email.padEnd(32)} ${name}, ${role}`);
    }
    console.log(`\n${pc.bold('Yurta')} is at ${pc.bold(`http://localhost:${port}`)}   (Ctrl-C ends it)`);
    await supervisor.untilStopped();
  } finally {
    step('stopping');
    await supervisor.stop();
  }
  process.exit(process.exitCode ?? 0);
}

program
  .command('worker')
  .description('work on queued publications; needs DATABASE_URL or the installation’s running database')
  .action(async () => {
    if (!process.env.DATABASE_URL) {
      const { startCluster } = await import('@/db/cluster');
      process.env.DATABASE_URL = (await startCluster(config().dataFolder)).url;
    }
    const { buildConverter, buildServer } = await import('./build');
    process.env.YURTA_CONVERTER ??= await buildConverter(home);
    process.env.YURTA_SERVER ??= await buildServer(home);
    await import(pathToFileURL(join(process.env.YURTA_SERVER, 'worker.mjs')).href);
  });

const standIns = program
  .command('stand-in', { hidden: true })
  .description('a small server that plays an outside service');
standIns
  .command('mail')
  .argument('<port>')
  .argument('<folder>')
  .action(async (port: string, folder: string) => {
    const { startMailServer } = await import('@/stand-ins/mail-server');
    keepListening(port, await startMailServer(folder, Number(port)));
  });

standIns
  .command('store')
  .argument('<port>')
  .argument('<folder>')
  .argument('<client>', 'id of the program that is registered')
  .argument('<name>', 'what people read of the program')
  .addOption(secretOf('the program', 'YURTA_STORE_CLIENT_SECRET'))
  .action(async (port: string, folder: string, id: string, name: string, { secret }: { secret: string }) => {
    const { startModelStore } = await import('@/stand-ins/model-store/model-store');
    keepListening(port, await startModelStore(folder, Number(port), { id, secret, name }));
  });

standIns
  .command('bucket')
  .argument('<port>')
  .argument('<folder>')
  .argument('<bucket>')
  .argument('<key-id>')
  .addOption(secretOf('the key', 'YURTA_BUCKET_SECRET'))
  .action(async (port: string, folder: string, bucket: string, keyId: string, { secret }: { secret: string }) => {
    const { startObjectStore } = await import('@/stand-ins/object-store/object-store');
    keepListening(port, await startObjectStore(folder, Number(port), { bucket, keyId, secret }));
  });

standIns
  .command('tracker')
  .argument('<port>')
  .argument('<folder>')
  .addOption(secretOf('programs', 'YURTA_TRACKER_TOKEN'))
  .action(async (port: string, folder: string, { secret }: { secret: string }) => {
    const { startIssueTracker } = await import('@/stand-ins/issue-tracker/issue-tracker');
    keepListening(port, await startIssueTracker(folder, Number(port), secret));
  });

/** From a variable, where whoever lists processes does not read it. It may begin with any letter, a dash too. */
function secretOf(whose: string, variable: string): Option {
  return new Option('--secret <secret>', `secret of ${whose}`).env(variable).makeOptionMandatory();
}

function keepListening(port: string, server: { close(): Promise<void> }): void {
  console.log(`listening on 127.0.0.1:${port}`);
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.on(signal, () => void server.close().then(() => process.exit(0)));
}

program
  .command('account')
  .description('make an account; prints its password unless one is given')
  .argument('<email>')
  .requiredOption('--name <name>', 'name that the others see')
  .option('--password <password>', PASSWORD_HELP)
  .action((email: string, options: { name: string; password?: string }) =>
    withAccounts(email, options.password, ({ createAccount }, password) =>
      createAccount(options.name, email, password),
    ),
  );
program
  .command('password')
  .description('set a new password for an account that has lost its own; its sessions and access tokens end')
  .argument('<email>')
  .option('--password <password>', PASSWORD_HELP)
  .action((email: string, options: { password?: string }) =>
    withAccounts(email, options.password, ({ resetPassword }, password) => resetPassword(email, password)),
  );

/** Does something with accounts in the installation's database, and tells the password that was made for it. */
async function withAccounts(
  email: string,
  given: string | undefined,
  work: (accounts: typeof Accounts, password: string) => Promise<unknown>,
): Promise<void> {
  const { Supervisor } = await import('./supervise');
  const supervisor = new Supervisor(home, config().dataFolder);
  try {
    await supervisor.database();
    const password = given ?? (await import('node:crypto')).randomBytes(12).toString('base64url');
    await work(await import('@/server/access/accounts'), password);
    console.log(`${email} can sign in${given ? '' : ` with the password ${password}`}`);
  } finally {
    await (await import('@/db/database')).closeConnection();
    await supervisor.stop();
  }
}

/** Where publications go on a server, for `publish` and `watch`. */
function toServer(command: Command): Command {
  return command
    .option('--server <url>', 'address of a Yurta server')
    .option('--project <id>', 'project on the server: the id in its address')
    .addOption(
      new Option('--token <token>', 'personal access token, made on the server’s settings page').env('YURTA_TOKEN'),
    )
    .option('--model <name>', 'name or id of the model; without it, the one that had a file of this name, or a new one')
    .option('--discipline <name>', 'discipline of a new model')
    .option('--note <text>', 'what is new', '')
    .option('--look', 'leave it to be looked at on Prepare before it is published', false);
}

interface ServerOptions {
  server?: string;
  project?: string;
  token?: string;
  model?: string;
  discipline?: string;
  note: string;
  look: boolean;
}

/** @throws Error that names the option that is missing */
function destination({ server, project, token, model, discipline, note, look }: ServerOptions) {
  if (!server) throw new Error('--server is missing: the address of a Yurta server.');
  if (!project) throw new Error('--project is missing: the id in the project’s address.');
  if (!token)
    throw new Error('--token is missing. Make one on the server’s settings page; YURTA_TOKEN may hold it too.');
  return { server, token, projectId: project, model, discipline, note, intent: look ? 'look' : 'publish' } as const;
}

toServer(
  program
    .command('publish')
    .description('publish model files: to a server, or into a folder without one')
    .argument('<files...>', 'model files of any format that Yurta reads')
    .option('--out <dir>', 'folder for the revision, without a server'),
)
  .option('--no-wait', 'end when the file is queued on the server')
  .option('--json', 'print a summary as JSON, one line a file', false)
  .addOption(
    new Option('--unit <unit>', 'with --out: unit of a file that names none, instead of the proposed one').choices(
      Object.keys(LENGTH_UNITS),
    ),
  )
  .addOption(new Option('--up <axis>', 'with --out: up axis of a file that names none').choices(['Y', 'Z']))
  .action(
    async (
      files: string[],
      options: ServerOptions & { out?: string; json: boolean; wait: boolean; unit?: LengthUnit; up?: UpAxis },
    ) => {
      if (options.out === undefined) {
        const { publishRemote } = await import('./publish-remote');
        process.exitCode = await publishRemote(files, {
          ...destination(options),
          wait: options.wait,
          json: options.json,
        });
        return;
      }
      if (options.server !== undefined)
        throw new Error('--out is for publishing without a server. Leave out --server or --out.');
      const frame = {
        ...(options.unit && { metresPerUnit: LENGTH_UNITS[options.unit].metres }),
        ...(options.up && { up: options.up }),
      };
      process.exitCode = await (await import('./publish-files')).publishFiles(files, options.out, options.json, frame);
    },
  );

program
  .command('section')
  .description('cut model files by planes, exactly: as JSON, or as drawings')
  .argument('<files...>', 'model files of any format that Yurta reads')
  .option(
    '--plane <nx,ny,nz,d>',
    'the points x with n·x = d, metres, Z up; may be given several times',
    (one, all: string[]) => [...all, one],
    [],
  )
  .option('--json', 'print the sections as JSON')
  .option('--svg <file>', 'write a drawing as SVG')
  .option('--dxf <file>', 'write a drawing as DXF, a layer a category')
  .option('--pdf <file>', 'write a drawing as PDF')
  .option('--scale <n>', 'of SVG and PDF: 100 for 1:100', '100')
  .action(async (files: string[], options: SectionOptions) => {
    process.exitCode = await (await import('./section')).section(files, options);
  });

program
  .command('distance')
  .description('the shortest distance between two elements of model files')
  .argument('<files...>', 'model files of any format that Yurta reads')
  .requiredOption('--from <guid>', 'one element')
  .requiredOption('--to <guid>', 'the other element')
  .option('--json', 'print distance, its points a and b and its components as JSON')
  .action(async (files: string[], options: DistanceOptions) => {
    process.exitCode = await (await import('./distance')).distance(files, options);
  });

program
  .command('sun')
  .description('where the sun stands: azimuth clockwise from north and apparent elevation, degrees')
  .requiredOption('--lat <degrees>', 'latitude, north positive')
  .requiredOption('--lon <degrees>', 'longitude, east positive')
  .requiredOption('--at <moment>', 'ISO 8601 with its zone, such as 2026-12-21T16:00:00+01:00')
  .option('--json', 'print azimuth and elevation as JSON')
  .action(async (options: SunOptions) => {
    process.exitCode = await (await import('./sun')).sun(options);
  });

toServer(
  program
    .command('watch')
    .description('publish the model files of a folder to a server whenever one is saved')
    .argument('<folder>', 'folder with model files; what was sent is remembered in it'),
)
  .option('--settle <seconds>', 'a file that has not changed for so long is whole', '3')
  .action(async (folder: string, options: ServerOptions & { settle: string }) => {
    const { server, token, ...to } = destination(options);
    const settleMs = Number(options.settle) * 1000;
    if (!(settleMs >= 100 && settleMs <= 3_600_000)) throw new Error('--settle takes seconds, from 0.1 to 3600.');
    const [{ FolderWatch }, { Remote }] = await Promise.all([import('./watch-folder'), import('./remote')]);
    const watching = new FolderWatch(folder, new Remote(server, token), {
      ...to,
      settleMs,
      retryMs: 15_000,
      say: (line) => console.log(line),
      complain: (line) => console.error(line),
    });
    await watching.start();
    step(`watching ${folder}   (Ctrl-C ends it)`);
    for (const signal of ['SIGINT', 'SIGTERM'] as const)
      process.once(signal, () => void watching.stop().then(() => process.exit(0)));
  });

program
  .command('test')
  .description('lint, types, unit tests, end-to-end tests')
  .action(async () => {
    process.exitCode = await (await import('./run-tests')).runTests(home);
  });

program
  .command('bench')
  .description('measure, beside a reference in the same run; JSON lines')
  .argument('<name>', BENCHES.join(', '))
  .argument('[files...]', 'files to measure with, instead of the demo’s and a generated block')
  .option('--runs <n>', 'how often', '3')
  .option('--people <n>', 'in the meeting')
  .option('--minutes <n>', 'for how long things are shaken')
  .option('--kills <n>', 'how many processes are killed meanwhile')
  .option('--seed <n>', 'from which the order of kills follows')
  .action(async (name: string, files: string[], { runs, ...more }: { runs: string } & Record<string, string>) => {
    if (!BENCHES.includes(name)) throw new Error(`There is no bench “${name}”. There are ${BENCHES.join(', ')}.`);
    const { spawnSync } = await import('node:child_process');
    const given = Object.entries(more).flatMap(([option, value]) => [`--${option}`, value]);
    const args = [...process.execArgv, join(home, 'bench', `${name}.ts`), ...files, '--runs', runs, ...given];
    process.exitCode = spawnSync(process.execPath, args, { stdio: 'inherit' }).status ?? 1;
  });

/** The bucket in which this installation's files lie; null where they lie in its data folder. */
async function ownBucket() {
  const { bucket } = config();
  return bucket && new (await import('@/server/storage/bucket')).Bucket(bucket);
}

program
  .command('backup')
  .description('write the whole installation into one file, also while it runs')
  .argument('<file>', 'is as secret as the installation: keep it where nobody else reads it')
  .action(async (file: string) => {
    const [{ writeBackup }, { Supervisor }] = await Promise.all([import('./backup'), import('./supervise')]);
    const { dataFolder } = config();
    const supervisor = new Supervisor(home, dataFolder);
    try {
      await supervisor.database();
      const bytes = await writeBackup({ databaseUrl: process.env.DATABASE_URL!, dataFolder, bucket: await ownBucket() }, file); // prettier-ignore
      console.log(`${file}: ${(bytes / 1024 / 1024).toFixed(1)} MB`);
    } finally {
      await supervisor.stop();
    }
    process.exit(0);
  });

program
  .command('restore')
  .description('bring an installation back from such a file, into an empty place')
  .argument('<file>', 'written by backup')
  .action(async (file: string) => {
    const { holdsInstallation, readBackup } = await import('./backup');
    const { startCluster, removeCluster } = await import('@/db/cluster');
    const { dataFolder } = config();
    if (await holdsInstallation(dataFolder)) {
      console.error(`yurta: ${dataFolder} holds an installation. Set YURTA_DATA to a new folder.`);
      process.exit(2);
    }
    const cluster = process.env.DATABASE_URL ? null : await startCluster(dataFolder);
    try {
      const { at } = await readBackup(file, { databaseUrl: process.env.DATABASE_URL ?? cluster!.url, dataFolder, bucket: await ownBucket() }); // prettier-ignore
      console.log(`Restored what was there on ${at}. ./yurta start starts it.`);
      await cluster?.stop();
    } catch (error) {
      console.error(`yurta: ${error instanceof Error ? error.message : String(error)}`);
      await cluster?.stop();
      if (cluster) removeCluster(dataFolder);
      process.exit(2);
    }
    process.exit(0);
  });

program
  .command('doctor')
  .description('say what is wrong with this installation')
  .action(async () => {
    process.exitCode = await (await import('./doctor')).doctor(home);
  });

try {
  await program.parseAsync();
} catch (error) {
  console.error(`yurta: ${error instanceof Error ? error.message : String(error)}`);
  process.exit(1);
}
