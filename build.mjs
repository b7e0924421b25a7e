// Bundles the command line, the worker process and the demo seed: Node 20 runs no TypeScript of itself.
import { build } from 'esbuild';

await build({
  entryPoints: {
    'cli/main': 'src/cli/main.ts',
    'worker/job': 'src/worker/node/job.ts',
    'demo/seed': 'demo/seed.ts',
    'demo/write': 'demo/write.ts',
  },
  outdir: 'dist',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  logLevel: 'warning',
  packages: 'external',
  alias: { '@': './src' },
});
