/** Errors that are there only when something bends. */
import type { Document } from '@gltf-transform/core';
import { expect, describe as group, it } from 'vitest';
import { bentTube } from '../../../../e2e/support/preparing';
import { readModel } from '../../model/model';
import { makeReference, measureShape } from './error';
import { posesToSee } from './poses';
import { readShape } from './shape';

/** A tube on four bones with a bulge; no clip moves any of it. */
const still = () => {
  const document = bentTube(24, 32);
  for (const a of document.getRoot().listAnimations()) a.dispose();
  return document;
};
const apart = (change: (document: Document) => void) => {
  const [before, after] = [still(), still()];
  change(after);
  return measureShape(makeReference(readShape(before), [], 0.5), readShape(after));
};
const primitive = (d: Document) => d.getRoot().listMeshes()[0].listPrimitives()[0];

group('poses', () => {
  it('of a model beside itself differ in nothing', () => {
    expect(apart(() => undefined).maxMm).toBeLessThan(1e-3);
  });
  it('a morph target at its full weight is looked at: of 8 mm that are halved 4 are missing (closed form)', () => {
    const { maxMm, meanMm } = apart((d) => {
      const bulge = primitive(d).listTargets()[0].getAttribute('POSITION');
      bulge?.setArray((bulge.getArray() as Float32Array).map((x) => x / 2));
    });
    // 0.4 of a radius of 20 mm, halved; the nearest place of the other surface lies a little nearer than straight out
    expect(maxMm).toBeGreaterThan(3.5);
    expect(maxMm).toBeLessThan(4.05);
    expect(meanMm).toBeLessThan(1e-3);
  });
  it('joints that no clip turns are turned: a vertex that follows another bone stands off', () => {
    const { maxMm } = apart((d) => {
      const joints = primitive(d).getAttribute('JOINTS_0');
      for (let v = 400; v < 440; v++) joints?.setElement(v, [0, 0, 0, 0]);
    });
    expect(maxMm).toBeGreaterThan(2);
  });
  it('what a joint is turned by goes by its name: others may be gone', () => {
    const [all, fewer] = [readModel(still()), readModel(still())];
    for (const s of fewer.skins) s.joints = s.joints.slice(1);
    const turnOf = (m: typeof all, name: string) => {
      const n = m.nodes.findIndex((x) => x.name === name);
      return [...(posesToSee(m).find((p) => p.name === 'joints 0')?.pose.trs ?? [])].slice(n * 10 + 3, n * 10 + 7);
    };
    expect(turnOf(fewer, 'bone 2')).toEqual(turnOf(all, 'bone 2'));
    expect(turnOf(all, 'bone 2')).not.toEqual(turnOf(all, 'bone 3'));
  });
  it('every one of a few targets comes at its full weight once, and mixtures of them', () => {
    const model = readModel(still());
    const node = model.nodes.findIndex((n) => n.mesh >= 0);
    model.meshes[0].primitives[0].morphPositions = Array.from({ length: 3 }, () => new Float32Array(3));
    const weights = posesToSee(model).flatMap((p) => (p.pose.morphWeights.get(node) ? [p.pose.morphWeights.get(node)] : []));
    for (const one of [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ])
      expect(weights).toContainEqual(one);
    expect(weights.some((w) => (w ?? []).filter((x) => x === 0.5).length > 1)).toBe(true);
  });
});
