// Bundles the command line, the worker process and the demo seed: Node 20 runs no TypeScript of itself.
import { rmSync } from 'node:fs';
import { build } from 'esbuild';

rmSync('dist/chunks', { recursive: true, force: true });

/** Packages that every job loads: in one file, without what no one asks for, they take half the time. All others stay where they are. */
const BUNDLED = /^(three|zod|@gltf-transform\/|property-graph|ndarray|cwise|iota|is-buffer|uniq|ktx-parse)/;

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
  // what a job does not need it does not load
  splitting: true,
  chunkNames: 'chunks/[name]-[hash]',
  sourcemap: true,
  logLevel: 'warning',
  plugins: [
    {
      name: 'packages',
      setup: (b) =>
        b.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
          kind !== 'entry-point' && !path.startsWith('@/') && !BUNDLED.test(path) ? { path, external: true } : undefined,
        ),
    },
  ],
  alias: { '@': './src' },
});
