/** What was passed over: targets, points and lines, torn shapes; and what is a guess, said to be one. */
import { Document, Primitive } from '@gltf-transform/core';
import { describe, expect, test } from 'vitest';
import { bentTube } from '../../../e2e/support/preparing';
import { sphere, surfaceDocument } from '../prepare/samples';
import { inspectModel, isUnseen, judgeFindings, NO_CREDIT, type StockFacts } from './index';

const inspect = (document: Document, format: StockFacts['format'] = 'glb') => inspectModel({ document, format }, 1000);
const codes = (facts: StockFacts) => facts.findings.map((f) => f.code);

function bare(mode: Primitive['getMode'] extends () => infer M ? M : never, count: number): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const places = Float32Array.from({ length: count * 3 }, (_, i) => Math.sin(i));
  const p = document
    .createPrimitive()
    .setMode(mode)
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(places).setBuffer(buffer));
  document.createScene().addChild(document.createNode('n').setMesh(document.createMesh('m').addPrimitive(p)));
  return document;
}

describe('what is in a model', () => {
  test('morph targets by their names, and by number where they have none', () => {
    expect(inspect(bentTube(8, 8)).morphs).toEqual(['bulge']);
    const document = bentTube(8, 8);
    document.getRoot().listMeshes()[0].setExtras({});
    expect(inspect(document).morphs).toEqual(['target 0']);
    expect(inspect(surfaceDocument('ball', sphere(0.1), 8, 4)).morphs).toEqual([]);
  });
  test.each([
    [Primitive.Mode.POINTS, 12, 0],
    [Primitive.Mode.LINES, 0, 6],
    [Primitive.Mode.LINE_STRIP, 0, 11],
    [Primitive.Mode.LINE_LOOP, 0, 12],
  ])('mode %i: points and lines are counted, and it is said that there is no surface', (mode, points, lines) => {
    const facts = inspect(bare(mode, 12));
    expect(facts).toMatchObject({ points, lines, triangles: 0 });
    expect(codes(facts)).toContain('scene/no-surface');
  });
  test('a surface is none of these', () => {
    const facts = inspect(surfaceDocument('ball', sphere(0.1), 8, 4));
    expect(facts).toMatchObject({ points: 0, lines: 0 });
    expect(codes(facts)).not.toContain('scene/no-surface');
  });
});

describe('a ball with triangles missing', () => {
  /** Of every so many triangles one is taken out. */
  const told = (every: number) => {
    const document = surfaceDocument('ball', sphere(0.1), 24, 16);
    const [p] = document.getRoot().listMeshes()[0].listPrimitives();
    const list = [...(p.getIndices()?.getArray() ?? [])];
    const kept = list.filter((_, i) => Math.floor(i / 3) % every !== 0);
    p.setIndices(document.createAccessor().setArray(Uint16Array.from(kept)).setBuffer(document.getRoot().listBuffers()[0]));
    return codes(inspect(document)).filter((c) => /open-edges|torn/.test(c));
  };
  test('a few: holes, which can be closed', () => expect(told(40)).toEqual(['geometry/open-edges']));
  test('every ninth: torn', () => expect(told(9)).toEqual(['geometry/torn']));
  test('none', () => expect(told(1e9)).not.toContain('geometry/torn'));
});

describe('a size nobody stated', () => {
  const scale = (format: StockFacts['format'], kind: 'prop' | null) => {
    const facts = inspect(surfaceDocument('ball', sphere(7), 12, 6), format);
    return judgeFindings(facts, { kind, credit: NO_CREDIT, changed: false, pictures: [] }).find((f) => f.code === 'placing/scale');
  };
  test('of a glTF is told, in metres as its standard says; nothing is offered', () => {
    expect(scale('glb', null)).toMatchObject({ level: 'note', message: expect.stringContaining('in metres as glTF says') });
    expect(scale('glb', null)?.fix).toBeUndefined();
  });
  test('of another format a guess is offered, by itself alone', () => {
    const found = scale('obj', null);
    expect(found?.fix).toMatchObject({ alone: true });
    expect(found && isUnseen(found)).toBe(false);
  });
  test('once it is said what it is, it is no guess', () => {
    const found = scale('glb', 'prop');
    expect(found?.fix?.alone).toBeUndefined();
    expect(found && isUnseen(found)).toBe(true);
  });
});
