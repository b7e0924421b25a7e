import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const alias = { '@': fileURLToPath(new URL('./src', import.meta.url)) };

/** Bounds on a hang, on a machine that does other things besides: of the test command these give way to browsers. */
const PATIENT = { testTimeout: 600_000, hookTimeout: 600_000 };

export default defineConfig({
  test: {
    // of two cores Vitest would leave one idle
    maxWorkers: '100%',
    projects: [
      { resolve: { alias }, test: { name: 'unit', include: ['src/**/*.test.ts', 'demo/**/*.test.ts'], isolate: false, ...PATIENT } },
      {
        resolve: { alias },
        test: { name: 'cli', include: ['e2e/cli/**/*.test.ts'], globalSetup: ['e2e/support/cli.ts'], fileParallelism: false, ...PATIENT },
      },
      // each starts what it looks at by itself
      {
        resolve: { alias },
        test: {
          name: 'operator',
          include: ['e2e/operator/**/*.test.ts'],
          fileParallelism: false,
          testTimeout: 900_000,
          hookTimeout: 900_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'server',
          include: ['e2e/server/**/*.test.ts'],
          globalSetup: ['e2e/support/site.ts'],
          fileParallelism: false,
          ...PATIENT,
        },
      },
    ],
  },
});
