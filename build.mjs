// Bundles the command line, the worker process and the demo seed: Node 20 runs no TypeScript of itself.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { relative } from 'node:path';
import { build } from 'esbuild';

for (const folder of ['dist/chunks', 'dist/worker']) rmSync(folder, { recursive: true, force: true });

/** Packages that are bundled: in one file, without what no one asks for, they take half the time. All others stay where they are. */
const BUNDLED = /^(three|zod|@gltf-transform\/|property-graph|ndarray|cwise|iota|is-buffer|uniq|ktx-parse)/;

await build({
  entryPoints: {
    'cli/main': 'src/cli/main.ts',
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

// one file for jobs, of which each is a process
await build({
  entryPoints: { 'worker/code': 'src/worker/node/job.ts', 'worker/job': 'src/worker/node/start.ts' },
  outdir: 'dist',
  outExtension: { '.js': '.cjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'cjs',
  // code that V8 took from its cache cannot import: all others are required
  supported: { 'dynamic-import': false },
  sourcemap: true,
  logLevel: 'warning',
  // of native code, or with files of their own
  external: ['sharp', 'gltf-validator', 'draco3dgltf', 'assimpjs', 'node-web-audio-api'],
  plugins: [
    {
      name: 'ndarray-pixels: sharp is loaded when a picture is read, not with everything else',
      setup: (b) =>
        b.onLoad({ filter: /ndarray-pixels-node\.mjs$/ }, async ({ path }) => {
          const code = await readFile(path, 'utf8');
          const line = 'import sharp from "sharp";';
          if (!code.includes(line)) throw new Error(`${path} is not what it was: look at how it loads sharp.`);
          return { contents: code.replace(line, 'const sharp = (...asked) => require("sharp")(...asked);'), loader: 'js' };
        }),
    },
    {
      name: 'ktx2-encoder cannot be required; its code looks for a file beside it',
      setup: (b) =>
        b.onLoad({ filter: /ktx2-encoder\/dist\/basis\/basis_encoder\.js$/ }, async ({ path }) => {
          const here = `('file://' + encodeURI(__dirname + '/../../${relative('.', path)}'))`;
          return { contents: (await readFile(path, 'utf8')).replaceAll('import.meta.url', here), loader: 'js' };
        }),
    },
  ],
  alias: { '@': './src' },
});

// the base body takes seconds: made where the code that makes it has changed
const bake = 'dist/bake.cjs';
await build({
  entryPoints: ['src/worker/node/bake.ts'],
  outfile: bake,
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'cjs',
  logLevel: 'warning',
  alias: { '@': './src' },
});
const code = createHash('sha256').update(readFileSync(bake)).digest('hex');
const made = existsSync('dist/body.of') ? readFileSync('dist/body.of', 'utf8') : '';
if (made !== code || !existsSync('public/baked')) {
  execFileSync(process.execPath, [bake, 'public/baked'], { stdio: 'inherit' });
  writeFileSync('dist/body.of', code);
}
// what fit sheets are set in
for (const weight of [400, 600]) {
  const font = `instrument-sans-latin-${weight}-normal.woff`;
  copyFileSync(`node_modules/@fontsource/instrument-sans/files/${font}`, `public/baked/${font}`);
}
