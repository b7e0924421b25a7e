import { readFileSync } from 'node:fs';
import { Euler, Matrix4, Quaternion, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { capeLumps } from '../../../../demo/models/cape';
import { crownLumps } from '../../../../demo/models/crown';
import { dropLumps } from '../../../../demo/models/drop';
import { helmetGlb } from '../../../../demo/models/helmet';
import { spectacleLumps } from '../../../../demo/models/spectacles';

void readFileSync;
void Quaternion;
void Vector3;
void Euler;
void Matrix4;
void helmetGlb;

import { lumpsToGlb } from '../../../../demo/kit';
import { readGltf, readModel, sceneSize } from '../index';
import { guessPlacing, type Kind, rankTurns, sampleSurface } from './index';

const bytes: [Kind, string, () => Promise<Uint8Array>][] = [
  ['eyewear', 'spectacles', () => lumpsToGlb('s', spectacleLumps())],
  ['headwear', 'crown', () => lumpsToGlb('s', crownLumps())],
  ['headwear', 'helmet', () => helmetGlb()],
  ['fullhead', 'helmet', () => helmetGlb()],
  ['earring', 'drop', () => lumpsToGlb('s', dropLumps())],
  ['garment', 'cape', () => lumpsToGlb('s', capeLumps())],
];
describe('look', () => {
  test.each(bytes)('%s %s', async (kind, _n, make) => {
    const read = await readGltf(await make(), {});
    const model = readModel(read.document);
    const mats = read.document
      .getRoot()
      .listMeshes()
      .map((m) => m.listPrimitives().map((p) => p.getMaterial()?.getAlphaMode() === 'BLEND'));
    const t0 = Date.now();
    const ranked = rankTurns(
      kind,
      sampleSurface(model, (m, p) => mats[m][p]),
    );
    console.log(
      kind,
      _n,
      sceneSize(model).map((x) => Math.round(x * 1000)),
      ranked
        .slice(0, 4)
        .map((r) => `${r.turn.yawDeg}/${r.turn.pitchDeg}/${r.turn.rollDeg} ${r.share.toFixed(3)}`)
        .join('  '),
    );
    const size = sceneSize(model).map((x) => x * 1000) as [number, number, number];
    const g = guessPlacing(model, size, (m, p) => mats[m][p]);
    console.log(JSON.stringify(g[kind]), Date.now() - t0, 'ms');
    expect(true).toBe(true);
  });
});
