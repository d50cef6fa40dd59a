import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Command, Option } from 'commander';
import pc from 'picocolors';
import { LENGTH_UNITS, type LengthUnit, type UpAxis } from '@/core/units/length-unit';
import { config } from '@/server/config';

const home = process.env.YURTA_HOME ?? process.cwd();
const program = new Command('yurta').description(
  'Publish light 3D models and lead design reviews with people who do not read drawings.',
);

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
  const { buildPages } = await import('./build');
  const { Supervisor } = await import('./supervise');
  installMissing(false);
  const supervisor = new Supervisor(home, config().dataFolder);
  try {
    step('starting the database');
    await supervisor.database();
    if (!existsSync(join(home, '.next', 'sources'))) step('building the pages (once, about a minute)');
    buildPages(home);
    const port = await supervisor.choosePort();
    step('starting worker and web server');
    await supervisor.mailServer();
    supervisor.workers(config().workers);
    await supervisor.web();
    if (demo) {
      const { seedDemo, DEMO_ACCOUNTS, DEMO_PASSWORD } = await import('@/demo/seed');
      await seedDemo(step);
      // Seeding used the database and the queue from this process; from here on it only supervises.
      await (await (await import('@/server/queue')).queue()).stop({ graceful: false });
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
    await (await import('./worker')).runWorker();
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
    const server = await startMailServer(folder, Number(port));
    for (const signal of ['SIGTERM', 'SIGINT'] as const)
      process.on(signal, () => void server.close().then(() => process.exit(0)));
  });

program
  .command('account')
  .description('make an account; prints its password unless one is given')
  .argument('<email>')
  .requiredOption('--name <name>', 'name that the others see')
  .option('--password <password>', 'at least eight characters')
  .action(async (email: string, options: { name: string; password?: string }) => {
    const { Supervisor } = await import('./supervise');
    const supervisor = new Supervisor(home, config().dataFolder);
    try {
      await supervisor.database();
      const password = options.password ?? (await import('node:crypto')).randomBytes(9).toString('base64url');
      await (await import('@/server/accounts')).createAccount(options.name, email, password);
      console.log(`${email} can sign in${options.password ? '' : ` with the password ${password}`}`);
    } finally {
      await (await import('@/db/database')).closeConnection();
      await supervisor.stop();
    }
  });

program
  .command('publish')
  .description('publish model files into a folder, without a server')
  .argument('<files...>', 'model files of any format that Yurta reads')
  .requiredOption('--out <dir>', 'folder for the revision')
  .option('--json', 'print a summary as JSON, one line a file', false)
  .addOption(
    new Option('--unit <unit>', 'unit of a file that names none, instead of the proposed one').choices(
      Object.keys(LENGTH_UNITS),
    ),
  )
  .addOption(new Option('--up <axis>', 'up axis of a file that names none').choices(['Y', 'Z']))
  .action(async (files: string[], options: { out: string; json: boolean; unit?: LengthUnit; up?: UpAxis }) => {
    const frame = {
      ...(options.unit && { metresPerUnit: LENGTH_UNITS[options.unit].metres }),
      ...(options.up && { up: options.up }),
    };
    process.exitCode = await (await import('./publish-files')).publishFiles(files, options.out, options.json, frame);
  });

program
  .command('test')
  .description('lint, types, unit tests, end-to-end tests')
  .action(async () => {
    process.exitCode = (await import('./run-tests')).runTests(home);
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
