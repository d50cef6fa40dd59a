import { defineConfig } from '@playwright/test';

const DATA = '.yurta/e2e';
const node = (port: number, command: string) => ({
  command: `${command}`,
  // Not as soon as it answers: the demo project has to be there.
  wait: { stdout: /Ctrl-C ends it/ },
  env: { YURTA_DATA: DATA, PORT: String(port), YURTA_MAIL_AFTER_SECONDS: '3', YURTA_REACH_OWN_NETWORK: '1' },
  timeout: 240_000,
  gracefulShutdown: { signal: 'SIGINT' as const, timeout: 15_000 },
  stdout: 'pipe' as const,
});

/** The first node has the demo project; the second shares its database, so that meetings span both. */
export const NODES = { first: 'http://localhost:3390', second: 'http://localhost:3391' };

export default defineConfig({
  testDir: 'tests/e2e',
  workers: 1,
  timeout: 180_000,
  expect: { timeout: 30_000 },
  reporter: [['list']],
  use: {
    actionTimeout: 45_000, // less than a whole test, so that it is told what could not be done
    baseURL: NODES.first,
    viewport: { width: 780, height: 500 },
    deviceScaleFactor: 0.5, // a quarter of the pixels to draw on the processor
    contextOptions: { reducedMotion: 'reduce' }, // the software renderer manages few frames
    trace: { mode: 'retain-on-failure', screenshots: false, snapshots: false }, // a fifth of all time went into these
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--use-gl=angle',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        '--ignore-gpu-blocklist',
        '--disable-gpu-compositing', // else the page around the model goes through the software renderer as well
        '--disable-background-networking',
      ],
    },
  },
  webServer: [node(3390, `rm -rf ${DATA} && exec ./yurta demo`), node(3391, 'exec ./yurta start')],
});
