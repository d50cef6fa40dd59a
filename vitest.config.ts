import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

/** Computation keeps nothing between calls, so that its tests may share what they have loaded. */
const COMPUTATION = ['src/core/**/*.test.ts', 'src/formats/**/*.test.ts'];
/** It puts another module in the place of a real one. */
const WITH_MOCK = 'src/formats/ifc/break-down.test.ts';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  test: {
    environment: 'node',
    env: { YURTA_LOG_LEVEL: 'silent' },
    globalSetup: ['src/db/test-cluster.ts', 'src/cli/test-converter.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    maxWorkers: 2,
    projects: [
      {
        extends: true,
        test: {
          name: 'program',
          include: ['src/!(core|formats)/**/*.test.ts', WITH_MOCK],
        },
      },
      { extends: true, test: { name: 'computation', include: COMPUTATION, exclude: [WITH_MOCK], isolate: false } },
    ],
  },
});
