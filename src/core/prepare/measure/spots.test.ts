/** What a measure must not pass over: a single vertex, a bend of a clip, the other side of a sheet, what is half clear. */
import type { Material } from '@gltf-transform/core';
import { Vector3 } from 'three';
import { expect, describe as group, it } from 'vitest';
import { bentTube } from '../../../../e2e/support/preparing';
import { readModel } from '../../model';
import { plane, surfaceDocument } from '../samples';
import { directedDistance, sampleShape, surfaceOf } from './distance';
import { makeReference, measureShape } from './error';
import { momentsOf } from './poses';
import type { Camera } from './raster';
import { readShape, type Shape } from './shape';
import { BACKGROUND, drawView, FULL } from './view';

const flat = (n = 40) => readShape(surfaceDocument('plane', plane(0.2), n, n));

group('the greatest distance', () => {
  it('is told of one vertex among thousands that stands out', () => {
    const before = flat();
    const positions = before.positions.slice();
    // a vertex inside the sheet, a millimetre up
    positions[(20 * 41 + 20) * 3 + 1] += 0.001;
    const e = measureShape(makeReference(before, [], 0.5), { ...before, positions });
    expect(e.maxMm).toBeCloseTo(1, 3);
    expect(e.meanMm).toBeLessThan(0.01);
  });
  it('is told of a bend that a clip does no more', async () => {
    const source = bentTube(12, 24);
    const before = readShape(source);
    expect(before.poses.length).toBeGreaterThan(0);
    const still = { ...before, poses: before.poses.map((p) => ({ ...p, positions: before.positions })) };
    const ref = makeReference(before, [], 0.5);
    expect(measureShape(ref, before).maxMm).toBeLessThan(0.01);
    expect(measureShape(ref, still).maxMm).toBeGreaterThan(5);
  });
});

group('moments of clips', () => {
  it('are none without clips, by turns over all of them, and inside their length', async () => {
    const model = readModel(bentTube(8, 8));
    expect(momentsOf({ ...model, clips: [] })).toEqual([]);
    const [clip] = model.clips;
    const two = { ...model, clips: [clip, { ...clip, name: 'other', seconds: 3 }] };
    const moments = momentsOf(two);
    expect(moments.map((m) => m.clip).slice(0, 3)).toEqual([0, 1, 0]);
    for (const m of moments) {
      expect(m.seconds).toBeGreaterThan(0);
      expect(m.seconds).toBeLessThan(two.clips[m.clip].seconds);
    }
  });
});

group('a sheet', () => {
  it('seen from its other side is the same surface: no normal is turned', () => {
    const one = flat(8);
    const other: Shape = { ...one, normals: one.normals.map((x) => -x) };
    expect(directedDistance(sampleShape(one, 500, 1), surfaceOf(other)).normalDeg).toBeCloseTo(0, 4);
  });
});

group('a picture of a shape', () => {
  /** Straight down on a sheet of 20 cm: 20 pixels in a picture of 40. */
  const above: Camera = {
    right: new Vector3(1, 0, 0),
    up: new Vector3(0, 0, -1),
    back: new Vector3(0, 1, 0),
    centre: new Vector3(),
    scale: 100,
    width: 40,
    height: 40,
  };
  const sheet = (spoil: (m: Material) => void) => {
    const document = surfaceDocument('plane', plane(0.2), 4, 4);
    const material = document.createMaterial().setDoubleSided(true);
    for (const m of document.getRoot().listMeshes()) for (const p of m.listPrimitives()) p.setMaterial(material);
    spoil(material);
    return readShape(document);
  };
  const middle = (spoil: (m: Material) => void) => drawView(sheet(spoil), [], above).luma[20 * 40 + 20];

  it('covers as many pixels as the sheet has, wherever its edge cuts them (closed form)', () => {
    // no edge lies on a sample
    for (const shift of [0, 0.001, 0.0037]) {
      const { cover } = drawView(
        sheet(() => undefined),
        [],
        { ...above, centre: new Vector3(shift, 0, shift) },
      );
      expect(cover.reduce((n, x) => n + x, 0) / FULL).toBeCloseTo(400, 6);
      expect(cover[20 * 40 + 20]).toBe(FULL);
      expect(cover[0]).toBe(0);
    }
  });
  it('shows what is half clear half as strongly over the grey behind it (closed form: over, Porter and Duff 1984)', () => {
    const white = middle(() => undefined);
    const half = middle((m) => m.setAlphaMode('BLEND').setAlpha(0.5));
    const third = middle((m) => m.setAlphaMode('BLEND').setAlpha(0.3));
    expect(Math.abs(white - BACKGROUND)).toBeGreaterThan(0.1);
    expect(half).toBeCloseTo(BACKGROUND + 0.5 * (white - BACKGROUND), 4);
    expect(third).toBeCloseTo(BACKGROUND + 0.3 * (white - BACKGROUND), 4);
  });
  it('cuts where the file says: alpha under its threshold is not there', () => {
    const cover = (cutoff: number) => {
      const shape = sheet((m) => m.setAlphaMode('MASK').setAlphaCutoff(cutoff).setAlpha(0.6));
      return drawView(shape, [], above).cover.reduce((n, x) => n + x, 0) / FULL;
    };
    expect(cover(0.55)).toBeCloseTo(400, 6);
    expect(cover(0.65)).toBe(0);
  });
});
