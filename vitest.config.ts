import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  test: {
    include: ['src/**/*.test.ts'],
    environment: 'node',
    globalSetup: ['src/db/test-cluster.ts', 'src/cli/test-converter.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    maxWorkers: 2,
  },
});
