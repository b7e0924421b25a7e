/** What every body is made from, baked with the build: a job does not make it again. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { deserialize, serialize } from 'node:v8';
import { buildFormBase } from '@/core/form';
import { type BodyBase, buildBodyBase } from '@/core/form/body';

/** Beside the folder of a job's code. */
const FILE = 'body.bin';

/** Makes it, as bytes of that file: `node build.mjs`. */
export const bakeBody = (): Uint8Array => serialize(buildBodyBase(buildFormBase()));

let base: Promise<BodyBase> | null = null;
export function bakedBody(): Promise<BodyBase> {
  base ??= readFile(join(typeof __dirname === 'string' ? __dirname : '', '..', FILE)).then(
    (bytes) => deserialize(bytes) as BodyBase,
    // without a build, as where its tests run
    () => buildBodyBase(buildFormBase()),
  );
  return base;
}
