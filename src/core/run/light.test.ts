/** What runs and draws a piece brings no validator and no reader of files along: the player is made of it. */
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { expect, test } from 'vitest';

const src = fileURLToPath(new URL('../../', import.meta.url));
const partsOf = async (entry: string) => {
  const made = await build({
    entryPoints: [`${src}${entry}`],
    bundle: true,
    write: false,
    metafile: true,
    format: 'esm',
    alias: { '@': src.slice(0, -1) },
    logLevel: 'silent',
  });
  const [out] = Object.values(made.metafile.outputs);
  return Object.entries(out.inputs)
    .filter(([, { bytesInOutput }]) => bytesInOutput > 0)
    .map(([path]) => path);
};

test('the run is free of Zod and of glTF-Transform', async () => {
  const inputs = await partsOf('core/run/index.ts');
  expect(inputs.some((p) => p.includes('core/run/run.ts'))).toBe(true);
  expect(inputs.filter((p) => /node_modules\/(zod|@gltf-transform)/.test(p))).toEqual([]);
});
