// Speed and memory, measured as ratios in one run: the machine's own pace divides out. With "intake": a
// comparison of readers; with "prepare": of optimisers; with "run": steps of the run, edits, what they hold;
// with "fit": the largest piece in the browser, after "clearance": how parts lie on wearers; with "interface": what screens load and hold; with "foreign": files nobody here made; with "server": kills, many artists, hostile files, copies (one alone by its name).

import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';

const which =
  {
    intake: 'intake',
    prepare: 'prepare/main',
    run: 'run',
    fit: 'fit',
    clearance: 'clearance',
    interface: 'interface',
    server: 'server/main',
    foreign: 'foreign/main',
    rig: 'rig',
  }[process.argv[2]] ?? 'core';
await build({
  entryPoints: [`bench/${which}.ts`],
  outfile: `dist/bench-${process.argv[2] ?? 'core'}.js`,
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  alias: { '@': './src' },
  logLevel: 'warning',
});
await import(pathToFileURL(`dist/bench-${process.argv[2] ?? 'core'}.js`).href);
