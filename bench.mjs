// Speed and memory, measured as ratios in one run: the machine's own pace divides out.

import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';

await build({
  entryPoints: ['demo/bench.ts'],
  outfile: 'dist/bench.js',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  alias: { '@': './src' },
  logLevel: 'warning',
});
await import(pathToFileURL('dist/bench.js').href);
