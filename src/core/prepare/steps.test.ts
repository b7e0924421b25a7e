/** The steps that are neither simplify nor pictures, each for what it promises. */
import type { Document } from '@gltf-transform/core';
import { KHRMaterialsTransmission } from '@gltf-transform/extensions';
import { Vector3 } from 'three';
import { expect, describe as group, it } from 'vitest';
import { bentTube, errorsOf, namesOf, run } from '../../../e2e/support/preparing';
import { inTurn } from '../../../e2e/support/sweep';
import { readModel } from '../intake';
import { poseAt, posedPrimitives } from '../model/pose';
import { readShape, shapeBox } from './measure/shape';
import { addSurface, sphere, surfaceDocument } from './samples';

group('a step', () => {
  it.each(['none', 'meshopt', 'draco'] as const)('a skinned, morphed model packed with %s moves as before', async (method) => {
    const source = bentTube();
    const made = await run(source, [
      { step: 'quantise', settings: { positionBits: 14, normalBits: 8, uvBits: 12 } },
      ...(method === 'none' ? [] : [{ step: 'compress' as const, settings: { method } }]),
    ]);
    expect(await errorsOf(made.packed)).toEqual([]);
    const at = (d: Document, swell: number) => {
      const model = readModel(d);
      const pose = poseAt(model, 0, 0.6);
      model.nodes.forEach((n, i) => {
        if (n.mesh >= 0) pose.morphWeights.set(i, [swell]);
      });
      const box = { min: new Vector3(9, 9, 9), max: new Vector3(-9, -9, -9) };
      for (const p of posedPrimitives(model, pose))
        for (let i = 0; i < p.positions.length; i += 3) {
          const v = new Vector3().fromArray(p.positions, i);
          box.min.min(v);
          box.max.max(v);
        }
      return box;
    };
    for (const swell of [0, 1]) {
      const [a, b] = [at(source, swell), at(made.document, swell)];
      expect(a.min.distanceTo(b.min)).toBeLessThan(1e-4);
      expect(a.max.distanceTo(b.max)).toBeLessThan(1e-4);
    }
    expect(at(source, 1).max.z - at(source, 0).max.z).toBeGreaterThan(1e-3);
  });
  const boxOf = (d: Document) => shapeBox(readShape(d));
  it('pivot and ground put the origin where they say, and that is no error', async () => {
    const at = (): Document => {
      const d = surfaceDocument('ball', sphere(0.1), 24, 12);
      d.getRoot().listNodes()[0].setTranslation([0.3, 0.5, -0.2]);
      return d;
    };
    const base = await run(at(), [{ step: 'pivot', settings: { to: 'base', pointM: [0, 0, 0] } }]);
    expect(boxOf(base.document).min.y).toBeCloseTo(0, 6);
    expect(boxOf(base.document).min.x + boxOf(base.document).max.x).toBeCloseTo(0, 6);
    expect(base.error?.maxMm).toBeLessThan(0.01);
    const point = await run(at(), [{ step: 'pivot', settings: { to: 'point', pointM: [0.3, 0.6, -0.2] } }]);
    expect(boxOf(point.document).max.y).toBeCloseTo(0, 5);
    const ground = await run(at(), [{ step: 'ground', settings: {} }]);
    expect(boxOf(ground.document).min.y).toBeCloseTo(0, 6);
    expect(boxOf(ground.document).max.x).toBeCloseTo(0.4, 4);
  });
  it.runIf(inTurn('hidden takes out a ball'))(
    'hidden takes out a ball inside a ball and leaves the outer one whole; one behind glass stays',
    async () => {
      const nested = (glass: boolean) => {
        const d = surfaceDocument('outer', sphere(0.04), 32, 16);
        if (glass) d.getRoot().listMaterials()[0].setAlphaMode('BLEND').setBaseColorFactor([1, 1, 1, 0.3]);
        addSurface(d, 'inner', sphere(0.024), 16, 8, d.createMaterial('core'));
        return d;
      };
      const solid = await run(nested(false), [{ step: 'hidden', settings: { inside: true, behind: [] } }]);
      expect(namesOf(solid.document.getRoot().listMeshes())).toEqual(['outer']);
      expect(solid.after.triangles).toBe(2 * 32 * 16 - 2 * 32);
      expect(solid.e).toBeLessThan(0.05);
      const clear = await run(nested(true), [{ step: 'hidden', settings: { inside: true, behind: [] } }]);
      expect(namesOf(clear.document.getRoot().listMeshes())).toEqual(['outer', 'inner']);
      // glass by transmission is opaque to its alpha mode
      const d = nested(false);
      const transmission = d.createExtension(KHRMaterialsTransmission);
      d.getRoot().listMaterials()[0].setExtension('KHR_materials_transmission', transmission.createTransmission().setTransmissionFactor(1));
      const glass = await run(d, [{ step: 'hidden', settings: { inside: true, behind: [] } }]);
      expect(namesOf(glass.document.getRoot().listMeshes())).toEqual(['outer', 'inner']);
    },
  );
  it('merge joins what draws alike; bones over a limit follow their parents', async () => {
    const d = surfaceDocument('one', sphere(0.05), 16, 8);
    addSurface(
      d,
      'two',
      sphere(0.05),
      16,
      8,
      d.createMaterial('same').setBaseColorFactor([0.7, 0.5, 0.3, 1]).setMetallicFactor(0),
      [0.2, 0, 0],
    );
    const merged = await run(d, [{ step: 'merge', settings: { materials: true, meshes: true } }]);
    expect(merged.after.materials).toBe(1);
    expect(merged.after.drawCalls).toBe(1);
    expect(merged.error?.maxMm).toBeLessThan(0.01);
    const boned = await run(bentTube(), [{ step: 'bones', settings: { dropUnused: true, fourInfluences: true, limit: 2 } }]);
    expect(boned.after.bones).toBe(2);
    expect(await errorsOf(boned.packed)).toEqual([]);
    // at rest nothing shows; in motion it does, and that is told
    expect(boned.error?.meanMm).toBeLessThan(0.01);
    expect(boned.error?.maxMm).toBeGreaterThan(1);
  });
  it('clips lose the keys between that a line gives anyway', async () => {
    const d = bentTube();
    const sampler = d.getRoot().listAnimations()[0].listSamplers()[0];
    sampler.getInput()?.setArray(Float32Array.from({ length: 101 }, (_, i) => i / 100));
    sampler
      .getOutput()
      ?.setArray(
        Float32Array.from(
          { length: 404 },
          (_, i) => [0, 0, Math.sin(0.0015 * Math.floor(i / 4)), Math.cos(0.0015 * Math.floor(i / 4))][i % 4],
        ),
      );
    const made = await run(d, [{ step: 'clips', settings: { resample: true, dropConstant: true } }]);
    expect(made.document.getRoot().listAnimations()[0].listSamplers()[0].getInput()?.getCount()).toBeLessThan(10);
    expect(namesOf(made.document.getRoot().listAnimations())).toEqual(['bend']);
  });
});
