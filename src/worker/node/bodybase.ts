/** What every body is made from, baked with the build: a job does not make it again. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { gunzip, gzipSync } from 'node:zlib';
import { buildFormBase } from '@/core/form';
import { type BodyBase, buildBodyBase } from '@/core/form/body';
import { BAKED_BODY, readBaked, writeBaked } from '../baked';

/** From the folder of a job's code. */
const FOLDER = join('..', '..', 'public', 'baked');

/** Makes it, as bytes of that file: `node build.mjs`. */
export const bakeBody = (): Uint8Array => gzipSync(writeBaked(buildBodyBase(buildFormBase())), { level: 9 });

let base: Promise<BodyBase> | null = null;
export function bakedBody(): Promise<BodyBase> {
  base ??= readFile(join(typeof __dirname === 'string' ? __dirname : '', FOLDER, BAKED_BODY))
    .then((bytes) => promisify(gunzip)(bytes))
    .then(
      (bytes) => readBaked(bytes.toString()),
      // without a build, as where its tests run
      () => buildBodyBase(buildFormBase()),
    );
  return base;
}
