import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './e2e/support/chromium';

export default defineConfig({
  testDir: 'e2e',
  testMatch: ['browser/**/*.spec.ts', 'journeys/**/*.spec.ts'],
  // each waits half its time: two beside one another, a file in each
  workers: 2,
  // bounds on a hang, on a machine that does other things besides
  timeout: 600_000,
  expect: { timeout: 120_000 },
  reporter: [['list']],
  globalSetup: './e2e/support/browser-site.ts',
  use: {
    viewport: { width: 1280, height: 800 },
    // software draws every pixel: a quarter of them is a quarter of the work, and what is tested is not how fine they are
    deviceScaleFactor: 0.5,
    // a film of every step is a third of all work; to have it: --trace on
    trace: 'off',
    // what plays by itself would play beside every test that looks at something else
    contextOptions: { reducedMotion: 'reduce' },
    screenshot: 'only-on-failure',
    acceptDownloads: true,
    actionTimeout: 120_000,
    launchOptions: {
      executablePath: CHROMIUM,
      args: [
        '--no-sandbox',
        '--no-first-run',
        '--disable-quic',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        // WebGL in software; pages are put together without it, which halves the time
        '--disable-gpu',
        '--enable-unsafe-swiftshader',
        // four samples a pixel are a third of all that software draws; whether edges are smooth is the browser's affair
        '--webgl-msaa-sample-count=0',
      ],
    },
  },
});
