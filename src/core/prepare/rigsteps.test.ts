/** The steps for bones and clips: what moves keeps moving as it did. */

import { type Document, WebIO } from '@gltf-transform/core';
import { AnimationClip, AnimationMixer, Bone, QuaternionKeyframeTrack, Vector3 } from 'three';
import { expect, describe as group, it } from 'vitest';
import { bentTube, errorsOf, lone, namesOf, run, tools } from '../../../e2e/support/preparing';
import { inTurn } from '../../../e2e/support/sweep';
import { readModel } from '../intake';
import { readFloats } from '../model/arrays';
import { poseAt, posedPrimitives } from '../model/pose';
import { manikin } from '../rig/samples';
import { runStep } from './recipe';

/** Every vertex at a time of the first clip. */
function placesAt(document: Document, seconds: number): Vector3[] {
  const model = readModel(document);
  return posedPrimitives(model, poseAt(model, 0, seconds)).flatMap((p) =>
    Array.from({ length: p.positions.length / 3 }, (_, i) => new Vector3().fromArray(p.positions, i * 3)),
  );
}
/** How far the same vertices of two documents come apart at most, metres. */
const apart = (a: Document, b: Document, seconds: number) => {
  const [p, q] = [placesAt(a, seconds), placesAt(b, seconds)];
  expect(q.length).toBe(p.length);
  return Math.max(...p.map((v, i) => v.distanceTo(q[i])));
};
const bones = (limit: number | null, dropUnused = true) => ({
  step: 'bones' as const,
  settings: { dropUnused, fourInfluences: true, limit },
});
/** The tube with its bones bending by so many radians each. */
function tube(angles: readonly number[]): Document {
  const d = bentTube();
  d.getRoot()
    .listAnimations()[0]
    .listSamplers()
    .forEach((s, k) => {
      s.getOutput()?.setArray(new Float32Array([0, 0, 0, 1, 0, 0, Math.sin(angles[k] / 2), Math.cos(angles[k] / 2)]));
    });
  return d;
}

group('the bones step', () => {
  it.runIf(inTurn('a bone that does not move by itself is the first'))(
    'a bone that does not move by itself is the first to go, and then nothing moves otherwise',
    async () => {
      for (const still of [1, 2, 3]) {
        const source = tube([0.3, 0.3, 0.3, 0.3].map((a, k) => (k === still ? 0 : a)));
        const made = await run(source, [bones(3)]);
        const names = namesOf(made.document.getRoot().listSkins()[0].listJoints());
        expect(names).toEqual([0, 1, 2, 3].filter((k) => k !== still).map((k) => `bone ${k}`));
        for (const t of [0, 0.4, 0.99]) expect(apart(source, made.document, t)).toBeLessThan(1e-6);
        expect(await errorsOf(made.packed)).toEqual([]);
      }
    },
  );
  it('of bones that all move the least moving goes: taking any other would show more', async () => {
    const source = tube([0.1, 0.5, 0.06, 0.4]);
    const made = await run(source, [bones(3)]);
    const own = apart(source, made.document, 0.99);
    expect(own).toBeGreaterThan(0);
    expect(namesOf(made.document.getRoot().listSkins()[0].listJoints())).not.toContain('bone 2');
    for (const other of [1, 3]) {
      // what the step would have done with another: its vertices follow the bone above
      const d = tube([0.1, 0.5, 0.06, 0.4]);
      for (const p of d.getRoot().listMeshes()[0].listPrimitives()) {
        const a = p.getAttribute('JOINTS_0');
        if (a) a.setArray(Uint16Array.from(readFloats(a), (j) => (j === other ? other - 1 : j)));
      }
      expect(apart(source, d, 0.99)).toBeGreaterThan(own);
    }
  });
  it.runIf(inTurn('keeps within its limit down to one bone'))(
    'keeps within its limit down to one bone; weights of a vertex still come to one',
    async () => {
      for (const limit of [3, 2, 1]) {
        const { document, after } = await run(bentTube(), [bones(limit)]);
        expect(after.bones).toBe(limit);
        const w = document.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('WEIGHTS_0');
        for (let i = 0; i < (w?.getCount() ?? 0); i++)
          expect(w?.getElement(i, [0, 0, 0, 0]).reduce((a: number, b: number) => a + b)).toBeCloseTo(1, 5);
        // the bones are gone from the skin, not from the scene: what hangs on them still does
        expect(namesOf(document.getRoot().listNodes())).toEqual(expect.arrayContaining(['bone 0', 'bone 1', 'bone 2', 'bone 3']));
      }
    },
  );
  it('a bone nothing follows goes where that is asked, and stays where it is not', async () => {
    const idle = () => {
      const d = bentTube();
      for (const p of d.getRoot().listMeshes()[0].listPrimitives()) {
        const a = p.getAttribute('JOINTS_0');
        if (a) a.setArray(Uint16Array.from(readFloats(a), (j) => Math.min(j, 2)));
      }
      return d;
    };
    expect((await run(idle(), [bones(null, true)])).after.bones).toBe(3);
    expect((await run(idle(), [bones(null, false)])).after.bones).toBe(4);
  });
});

group('the clips step', () => {
  const clips = (resample: boolean, dropConstant: boolean) => ({ step: 'clips' as const, settings: { resample, dropConstant } });
  /** The first bone nods in 101 keys: up, a rest, and up again. */
  const nod = (t: number) => 0.9 * Math.min(t, 1 / 3) + 0.4 * Math.max(0, 3 * t - 2);
  function nodding(): Document {
    const d = bentTube();
    const sampler = d.getRoot().listAnimations()[0].listSamplers()[0];
    sampler.getInput()?.setArray(Float32Array.from({ length: 101 }, (_, i) => i / 100));
    sampler.getOutput()?.setArray(Float32Array.from({ length: 404 }, (_, i) => quaternion(nod(Math.floor(i / 4) / 100))[i % 4]));
    return d;
  }
  const quaternion = (a: number) => [0, 0, Math.sin(a / 2), Math.cos(a / 2)];

  it('with fewer keys every moment is as it was, as another player plays both (three.js)', async () => {
    const source = nodding();
    const made = await run(source, [clips(true, false)]);
    const sampler = (d: Document) => d.getRoot().listAnimations()[0].listSamplers()[0];
    const keys = sampler(made.document).getInput()?.getCount() ?? 0;
    expect(keys).toBeLessThan(60);
    const play = (d: Document, t: number) => {
      const s = sampler(d);
      const bone = new Bone();
      bone.name = 'bone';
      const track = new QuaternionKeyframeTrack(
        'bone.quaternion',
        [...(s.getInput()?.getArray() ?? [])],
        [...(s.getOutput()?.getArray() ?? [])],
      );
      const mixer = new AnimationMixer(bone);
      mixer.clipAction(new AnimationClip('c', 1, [track])).play();
      mixer.setTime(t);
      return bone.quaternion.clone();
    };
    for (let t = 0.005; t < 1; t += 0.0173) expect(play(source, t).angleTo(play(made.document, t))).toBeLessThan(2e-3);
    for (const t of [0.1, 0.5, 0.9]) expect(apart(source, made.document, t)).toBeLessThan(2e-4);
  });
  it('a track that says what the rest pose says goes; one that holds something else stays', async () => {
    const d = bentTube();
    const [first, second] = d.getRoot().listAnimations()[0].listSamplers();
    first.getOutput()?.setArray(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1]));
    second.getOutput()?.setArray(new Float32Array([...quaternion(0.3), ...quaternion(0.3)]));
    const made = await run(d, [clips(false, true)]);
    const moved = made.document
      .getRoot()
      .listAnimations()[0]
      .listChannels()
      .map((c) => c.getTargetNode()?.getName());
    expect(moved).toEqual(['bone 1', 'bone 2', 'bone 3']);
    for (const t of [0, 0.5, 0.99]) expect(apart(d, made.document, t)).toBeLessThan(1e-6);
  });
});

group('skinned shapes at the root', () => {
  const mended = async (change: (d: Document) => void) => {
    const d = tube([0.3, 0.2, 0.1, 0.4]);
    change(d);
    await runStep(d, { step: 'mend', settings: { ops: ['skins-to-root'] } }, tools());
    return d;
  };
  const shapeOf = (d: Document) =>
    d
      .getRoot()
      .listNodes()
      .filter((n) => n.getSkin());
  const home = (d: Document) => d.getRoot().listScenes()[0];

  it('one under a node that is elsewhere goes up as it is; its bones stay, and nothing moves', async () => {
    const still = tube([0.3, 0.2, 0.1, 0.4]);
    const d = await mended((x) => {
      const [node] = shapeOf(x);
      node.setTranslation([0, 0, 0.2]);
      home(x).addChild(x.createNode('holder').setTranslation([0.5, 0, 0]).addChild(node));
    });
    const [node] = shapeOf(d);
    expect(node.getParentNode()).toBeNull();
    expect(home(d).listChildren()).toContain(node);
    expect(node.getTranslation()).toEqual([0, 0, 0]);
    for (const s of [0, 0.4, 1]) expect(apart(still, d, s)).toBeLessThan(1e-7);
  });
  it('where the node is a bone’s parent too, the shape alone leaves it', async () => {
    const still = tube([0.3, 0.2, 0.1, 0.4]);
    const d = await mended((x) => {
      const [node] = shapeOf(x);
      const bone = x.getRoot().listSkins()[0].listJoints()[0];
      home(x).removeChild(bone);
      node.addChild(bone);
      home(x).addChild(x.createNode('holder').addChild(node));
    });
    const [node] = shapeOf(d);
    expect(shapeOf(d)).toHaveLength(1);
    expect(node.listChildren()).toEqual([]);
    expect(home(d).listChildren()).toContain(node);
    for (const s of [0, 0.4, 1]) expect(apart(still, d, s)).toBeLessThan(1e-7);
  });
});

group('another rest pose', () => {
  it.runIf(inTurn('of a figure raised in the recipe'))(
    'of a figure raised in the recipe is no error: what it is compared with stands so too',
    async () => {
      const { positions, triangles } = manikin();
      const source = await new WebIO().readBinary(await lone(4, positions, triangles));
      const figure = { step: 'figure' as const, settings: { detail: 17 as const, jointsM: {}, weights: 'auto' as const } };
      const stance = { step: 'stance' as const, settings: { rest: 'half' as const } };
      const plain = await run(source, [figure]);
      const made = await run(source, [figure, stance]);
      // its arms did move
      const [before, now] = [plain, made].map((m) => placesAt(m.document, 0));
      expect(Math.max(...before.map((p, i) => p.distanceTo(now[i])))).toBeGreaterThan(0.05);
      expect(made.e).toBeLessThan(0.2);
      expect(await errorsOf(made.packed)).toEqual([]);
    },
  );
});
