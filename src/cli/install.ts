import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { postgresPrograms } from '@/db/cluster';

interface Need {
  what: string;
  packages: string[];
  missing: () => boolean;
}

const POSTGRES: Need = {
  what: 'PostgreSQL server',
  packages: ['postgresql'],
  missing: () => postgresPrograms() === null,
};
const CHROMIUM: Need = {
  what: 'Chromium for the browser tests',
  packages: ['chromium'],
  missing: () => chromiumPath() === null,
};

export function chromiumPath(): string | null {
  return ['/usr/bin/chromium', '/usr/bin/chromium-browser'].find((path) => existsSync(path)) ?? null;
}

/** Installs what is missing from Debian's packages, as root or through sudo. */
export function installMissing(forTests: boolean): void {
  for (const need of forTests ? [POSTGRES, CHROMIUM] : [POSTGRES]) {
    if (!need.missing()) continue;
    console.log(`installing ${need.what} (Debian: ${need.packages.join(' ')}) …`);
    const root = process.getuid?.() === 0;
    if (!existsSync('/usr/bin/apt-get') || (!root && !existsSync('/usr/bin/sudo')))
      throw new Error(installByHand(need));
    const run = (...args: string[]) =>
      spawnSync(root ? 'apt-get' : 'sudo', root ? args : ['apt-get', ...args], {
        stdio: ['inherit', 'ignore', 'inherit'],
        env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
      });
    run('update', '-q');
    run('install', '-y', '-q', '--no-install-recommends', ...need.packages);
    if (need.missing()) throw new Error(installByHand(need));
  }
}

function installByHand(need: Need): string {
  return `${need.what} is missing and could not be installed. As an administrator run:  apt-get install ${need.packages.join(' ')}  and start again.`;
}
