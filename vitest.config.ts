import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const alias = { '@': fileURLToPath(new URL('./src', import.meta.url)) };

export default defineConfig({
  test: {
    // of two cores Vitest would leave one idle
    maxWorkers: '100%',
    projects: [
      { resolve: { alias }, test: { name: 'unit', include: ['src/**/*.test.ts', 'demo/**/*.test.ts'], testTimeout: 60_000 } },
      {
        resolve: { alias },
        test: {
          name: 'server',
          include: ['e2e/server/**/*.test.ts'],
          globalSetup: ['e2e/support/site.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
