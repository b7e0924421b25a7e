/** What a run tells and what it remembers: lines of parts and bones, triangles in the world, clips by name, kept copies. */
import { WebIO } from '@gltf-transform/core';
import { Matrix4, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { type CaptureSource, simulateCapture } from '../capture';
import { LOOK_ABOUT, poseAtTime, SKELETONS } from '../form';
import { type Model, readModel } from '../intake';
import { boxGlb } from '../intake/samples';
import {
  add,
  applyEdit,
  batch,
  change,
  createGroup,
  createModelItem,
  createModelPart,
  createPiece,
  createSolid,
  followAll,
  Motion,
  onAnchor,
} from '../piece';
import { compile, Runner, settle, sourceOf, stageOf, worldBox, worldShapes } from './index';
import { RunLine, runLine } from './report';

const MOVES = 'b'.repeat(64);
const BARE = 'c'.repeat(64);
const B = SKELETONS.M;
const source = sourceOf((t) => ({ ...simulateCapture({ yawDeg: 0, pitchDeg: 0, rollDeg: 0 }, B, t), signals: { mouthOpen: t / 10 } }));
const BOX = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };

let models: Record<string, Model>;
beforeAll(async () => {
  const document = await new WebIO().readBinary((await boxGlb([0.05, 0.05, 0.05], [0, 0, 0], 0.5)) as Uint8Array<ArrayBuffer>);
  document.getRoot().listMaterials()[0].setAlphaMode('BLEND');
  models = { [BARE]: readModel(document) };
  const node = document.getRoot().listNodes()[0].setName('');
  const buffer = document.getRoot().listBuffers()[0];
  for (const [name, end] of [
    ['rise', [0, 0.2, 0]],
    ['slide', [0.1, 0, 0]],
  ] as const) {
    const list = (type: 'SCALAR' | 'VEC3', array: number[]) =>
      document.createAccessor().setType(type).setArray(new Float32Array(array)).setBuffer(buffer);
    const sampler = document
      .createAnimationSampler()
      .setInput(list('SCALAR', [0, 1]))
      .setOutput(list('VEC3', [0, 0, 0, ...end]))
      .setInterpolation('LINEAR');
    const channel = document.createAnimationChannel().setTargetNode(node).setTargetPath('translation').setSampler(sampler);
    document.createAnimation(name).addSampler(sampler).addChannel(channel);
  }
  models[MOVES] = readModel(document);
});

const piece = applyEdit(
  createPiece('Told'),
  batch([
    add('stock', createModelItem({ id: 's', name: 'moves.glb', original: 'a'.repeat(64), model: MOVES, bytes: 1 })),
    add('stock', createModelItem({ id: 'bare', name: 'bare.glb', original: 'a'.repeat(64), model: BARE, bytes: 1 })),
    add('parts', createModelPart('m', 's', 'Moves')),
    add('parts', createModelPart('still', 'bare', 'Still')),
    add('parts', createSolid('box', 'Box', BOX, onAnchor('head'))),
    add('parts', createGroup('g', 'Group')),
  ]),
);
const at = (timeS: number, p = piece, own = models) => {
  const show = compile(p, { models: own });
  const capture = source.frame(timeS);
  if (!capture) throw new Error('no frame');
  return { show, capture, state: stageOf(show, settle(show, capture), capture) };
};
const partOf = (id: string, timeS = 0, p = piece, own = models) => {
  const part = at(timeS, p, own).state.parts.find((x) => x.id === id);
  if (!part) throw new Error(`no part ${id}`);
  return part;
};
/** Middle of a part's box in the world. */
const middle = (id: string, timeS: number, p = piece) => {
  const box = worldBox([partOf(id, timeS, p)], { models });
  return box && [0, 1, 2].map((k) => Number(((box[k] + box[k + 3]) / 2).toFixed(6)));
};

describe('a line of a run', () => {
  test('has every part, its bones by name in the world, the signals; no state and no cue yet', () => {
    const { show, state, capture } = at(0.5);
    const line = runLine(show, state, capture);
    expect(RunLine.parse(line)).toEqual(line);
    expect(Object.keys(line.parts)).toEqual(['head-block', 'm', 'still', 'box', 'g']);
    // a node without a name is told by its number
    expect(Object.keys(line.parts.m.pose ?? {})).toEqual(['node 0']);
    expect(new Vector3().setFromMatrixPosition(new Matrix4().fromArray(line.parts.m.pose?.['node 0'] as number[])).y).toBeCloseTo(0.1, 7);
    expect([line.parts.still.pose, line.parts.box.pose, line.parts.g.pose]).toEqual([null, null, null]);
    expect(line).toMatchObject({ timeS: 0.5, signals: { mouthOpen: 0.05 }, states: {}, fired: [] });
    expect(['m', 'box', 'g'].map((id) => line.parts[id].shown)).toEqual([true, true, false]);
  });
});

describe('triangles in the world', () => {
  test('of a model as its clip poses it, with what can be seen through it; of nothing else than models and solids', () => {
    const [shape] = worldShapes(partOf('m', 0.5), { models });
    expect([shape.instances, shape.triangles.length, shape.alpha]).toEqual([1, 36, 0.5]);
    expect(middle('m', 0.5)).toEqual([0, 0.1, 0]);
    expect(worldShapes(partOf('box'), { models })).toMatchObject([{ instances: 1, alpha: 1 }]);
    expect(worldShapes(partOf('g'), { models })).toEqual([]);
    expect(worldShapes(partOf('head-block'), { models })).toEqual([]);
    // not at hand
    expect(worldShapes(partOf('m', 0, piece, {}), { models: {} })).toEqual([]);
    expect(worldShapes(partOf('m'), { models: {} })).toEqual([]);
  });
  test('a box round parts leaves out what is not shown', () => {
    const hidden = { ...partOf('box'), shown: false };
    expect(worldBox([hidden], { models })).toBeNull();
    expect(worldBox([partOf('box'), hidden], { models })).toEqual(worldBox([partOf('box')], { models }));
    expect(worldBox([], { models })).toBeNull();
  });
});

describe('which clip plays', () => {
  const playing = (clip: string) => applyEdit(piece, change('parts', 'm', { motion: Motion.parse({ clip }) }));
  test('the first unless one is named; one that is not there leaves the rest pose', () => {
    expect(middle('m', 0.5)).toEqual([0, 0.1, 0]);
    expect(middle('m', 0.5, playing('slide'))).toEqual([0.05, 0, 0]);
    expect(middle('m', 0.5, playing('rise'))).toEqual([0, 0.1, 0]);
    expect(middle('m', 0.5, playing('gone'))).toEqual([0, 0, 0]);
  });
});

describe('what a runner keeps', () => {
  const lagging = applyEdit(
    createPiece('Lags'),
    add('parts', {
      ...createSolid('a', 'A', BOX, onAnchor('head')),
      follow: { ...followAll(), trail: { placeHalfLifeMs: 300, turnHalfLifeMs: 300, sizeHalfLifeMs: 0, deadZoneM: 0 } },
    }),
  );
  /** A source that counts what it is asked. */
  const counted = () => {
    const asked: number[] = [];
    const inner: CaptureSource = sourceOf((t) => simulateCapture(poseAtTime(LOOK_ABOUT, t), B, t));
    const frame = (t: number) => {
      asked.push(t);
      return inner.frame(t);
    };
    return { asked, source: { ...inner, frame } };
  };
  test('an earlier time is come to from the second before it, not from the beginning', () => {
    const { asked, source } = counted();
    const show = compile(lagging, { models: {} });
    const r = new Runner(show, source);
    r.frame(8);
    for (const [t, from] of [
      [6.5, 6],
      [6, 6],
      [1.02, 1],
      [0.9, 0],
    ] as const) {
      asked.length = 0;
      const state = JSON.stringify(r.frame(t));
      expect(Math.min(...asked), `to ${t}`).toBeGreaterThanOrEqual(from - 1e-6);
      expect(asked.length, `to ${t}`).toBeLessThanOrEqual((t - from) * 120 + 4);
      expect(state).toBe(JSON.stringify(new Runner(show, counted().source).frame(t)));
    }
  });
  test('on the way forward nothing is asked twice, and where nothing lags hardly anything', () => {
    const { asked, source } = counted();
    const r = new Runner(compile(lagging, { models: {} }), source);
    for (let i = 0; i <= 60; i++) r.frame(i / 20);
    // 361 steps, and what is on stage at each of 61 draws
    expect(asked.length).toBeLessThanOrEqual(361 + 61 + 3);
  });
  test('another show starts anew', () => {
    const { source } = counted();
    const show = compile(lagging, { models: {} });
    const r = new Runner(show, source);
    r.frame(5);
    r.change(show);
    expect(JSON.stringify(r.frame(0.5))).toBe(JSON.stringify(new Runner(show, source).frame(0.5)));
    expect(r.running).toBe(show);
  });
});
