import { Document, type Primitive, WebIO } from '@gltf-transform/core';
import { weld } from '@gltf-transform/functions';
import { Quaternion } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { inTurn } from '../../../../e2e/support/sweep';
import { type Form, formDocument, formObj, makeForm } from '../../form';
import { formBase } from '../../form/samples';
import { readModel } from '../../model/model';
import { applyTransform } from '../../model/transform';
import { inspectModel } from '../inspect';
import { judgeFindings } from '../judge';
import { boxGlb } from '../samples';
import { isAtHome } from './athome';
import { FORM_TRIANGLES, findForm, sculptOf } from './formreturn';

let form: Form;
let small: Form;
beforeAll(() => {
  const base = formBase();
  form = makeForm(base, 'M');
  small = makeForm(base, 'S');
  expect(base.formTriangles).toBe(FORM_TRIANGLES.skin);
  expect(form.indices.length / 3).toBe(FORM_TRIANGLES.whole);
});

/** What is left between the form brought back and the form, at every vertex, mm. */
function leftMm(document: Document, of: Form = form): number {
  const found = findForm(readModel(document));
  if (!found) throw new Error('not found');
  const { yaw, pitch, roll } = found.turnDeg;
  const D = Math.PI / 180;
  const q = new Quaternion()
    .setFromAxisAngle({ x: 0, y: 1, z: 0 } as never, yaw * D)
    .multiply(new Quaternion().setFromAxisAngle({ x: 1, y: 0, z: 0 } as never, pitch * D))
    .multiply(new Quaternion().setFromAxisAngle({ x: 0, y: 0, z: 1 } as never, roll * D));
  applyTransform(document, { factor: found.factor, turn: q, shiftM: found.shiftM });
  const skin = document.getRoot().listMeshes()[found.shapes[0][0]].listPrimitives()[found.shapes[0][1]];
  const p = skin.getAttribute('POSITION')?.getArray() as Float32Array;
  expect(p.length).toBe(of.positions.length);
  let worst = 0;
  for (let i = 0; i < p.length; i++) worst = Math.max(worst, Math.abs(p[i] - of.positions[i]) * 1000);
  expect(isAtHome(findForm(readModel(document)) as never)).toBe(true);
  return worst;
}

const primitives = (d: Document): Primitive[] =>
  d
    .getRoot()
    .listMeshes()
    .flatMap((m) => m.listPrimitives());
function edit(d: Document, name: string, change: (x: Float32Array) => void): Document {
  for (const a of new Set(primitives(d).map((p) => p.getAttribute(name)))) {
    const array = a?.getArray()?.slice() as Float32Array<ArrayBuffer>;
    change(array);
    a?.setArray(array);
  }
  return d;
}
const zUp = new Quaternion().setFromAxisAngle({ x: 1, y: 0, z: 0 } as never, Math.PI / 2);

describe('the form that comes back', () => {
  test.runIf(inTurn('untouched, lies where it was'))('untouched, lies where it was', () =>
    expect(isAtHome(findForm(readModel(formDocument(form, 'M'))) as never)).toBe(true),
  );
  test.each([
    ['in millimetres', 1000, new Quaternion(), [0, 0, 0]],
    ['in centimetres, with z up', 100, zUp, [0, 0, 0]],
    ['in inches, turned anyhow and moved', 1 / 0.0254, new Quaternion(0.2, -0.4, 0.1, 0.8).normalize(), [3, -1, 20]],
    ['a little smaller', 0.97, new Quaternion(), [0, 0.004, 0]],
  ] as const)('%s: put back within 0.01 mm', (_, factor, turn, shift) => {
    const d = formDocument(form, 'M');
    applyTransform(d, { factor, turn: turn.clone(), shiftM: [...shift] });
    expect(isAtHome(findForm(readModel(d)) as never)).toBe(false);
    expect(leftMm(d)).toBeLessThan(0.01);
  });
  test('of another size is known for that size', () => {
    const d = formDocument(small, 'S');
    applyTransform(d, { factor: 10, turn: zUp.clone(), shiftM: [0, 0, 0] });
    expect(findForm(readModel(d))?.size).toBe('S');
    expect(leftMm(d, small)).toBeLessThan(0.01);
  });
  test('its eyes go with its skin, whether they are of one mesh with it or stand beside it; what else is there does not', () => {
    const eyes = () => {
      const d = formDocument(form, 'M');
      const [mesh] = d.getRoot().listMeshes();
      const [skin, balls] = mesh.listPrimitives();
      const crumb = skin.clone().setIndices(
        balls
          .getIndices()
          ?.clone()
          .setArray(Uint16Array.of(0, 1, 2)) ?? null,
      );
      return { d, mesh, balls, crumb };
    };
    const one = eyes();
    one.mesh.addPrimitive(one.crumb);
    expect(findForm(readModel(one.d))?.shapes).toEqual([
      [0, 0],
      [0, 1],
    ]);
    const two = eyes();
    two.mesh.removePrimitive(two.balls);
    const beside = two.d.createMesh('eyes').addPrimitive(two.crumb).addPrimitive(two.balls);
    two.d.getRoot().getDefaultScene()?.addChild(two.d.createNode('eyes').setMesh(beside));
    expect(findForm(readModel(two.d))?.shapes).toEqual([
      [0, 0],
      [1, 1],
    ]);
  });
  test('carved upon: what was left alone tells', () => {
    const d = edit(formDocument(form, 'M'), 'POSITION', (p) => {
      for (let i = 0; i < p.length / 4; i++) p[i] += 0.02;
    });
    applyTransform(d, { factor: 100, turn: zUp.clone(), shiftM: [0, 0, 0] });
    expect(findForm(readModel(d))).toMatchObject({ size: 'M', factor: 0.01 });
  });
  test('rounded as files round, and carved upon a little: neither moves it, and a quarter turn stays one', () => {
    const round = (p: Float32Array) => {
      for (let i = 0; i < p.length; i++) p[i] = Math.round(p[i] * 5e4) / 5e4;
    };
    const turned = edit(formDocument(form, 'M'), 'POSITION', round);
    applyTransform(turned, { factor: 100, turn: zUp.clone(), shiftM: [0, 0, 0] });
    expect(findForm(readModel(turned))?.turnDeg).toEqual({ yaw: 0, pitch: -90, roll: 0 });
    // a millimetre over a quarter of it would draw a fit of all by a quarter of that
    const carved = edit(formDocument(form, 'M'), 'POSITION', (p) => {
      round(p);
      for (let i = 2; i < p.length / 4; i += 3) p[i] += 0.001;
    });
    applyTransform(carved, { factor: 1, turn: new Quaternion(), shiftM: [0, 0.004, 0] });
    const shift = findForm(readModel(carved))?.shiftM.map((x) => x * 1000) ?? [];
    expect(Math.max(...[0, -4, 0].map((mm, k) => Math.abs(shift[k] - mm)))).toBeLessThan(0.02);
  });
  test('with v counted the other way, welded, or without UVs, it is still found', async () => {
    const flipped = edit(formDocument(form, 'M'), 'TEXCOORD_0', (uv) => {
      for (let i = 1; i < uv.length; i += 2) uv[i] = 1 - uv[i];
    });
    applyTransform(flipped, { factor: 1000, turn: zUp.clone(), shiftM: [0, 0, 0] });
    expect(leftMm(flipped)).toBeLessThan(0.01);
    const bare = formDocument(form, 'M');
    for (const p of primitives(bare)) p.setAttribute('TEXCOORD_0', null).setAttribute('NORMAL', null);
    applyTransform(bare, { factor: 1000, turn: zUp.clone(), shiftM: [0, 0, 0] });
    await bare.transform(weld());
    expect(findForm(readModel(bare))).toMatchObject({ size: 'M', factor: 0.001, turnDeg: { pitch: -90 } });
  });
  test('its triangles in another order, and some of them gone: its UVs tell, v counted either way', () => {
    for (const [flip, kept] of [
      [false, 1],
      [true, 0.7],
    ] as const) {
      const d = formDocument(form, 'M');
      for (const p of primitives(d)) {
        const list = p.getIndices();
        const old = [...(list?.getArray() ?? [])];
        const triangles = Array.from({ length: old.length / 3 }, (_, t) => old.slice(t * 3, t * 3 + 3)).reverse();
        const left = triangles.slice(0, Math.floor(triangles.length * kept)).flat();
        list?.setArray(Uint32Array.from(left));
      }
      if (flip)
        edit(d, 'TEXCOORD_0', (uv) => {
          for (let i = 1; i < uv.length; i += 2) uv[i] = 1 - uv[i];
        });
      for (const m of d.getRoot().listMeshes()) m.setName('scaphos form');
      applyTransform(d, { factor: 100, turn: zUp.clone(), shiftM: [1, 2, 3] });
      expect(leftMm(d)).toBeLessThan(0.01);
    }
  });
  test('as its mirror image is told', () => {
    const d = edit(formDocument(form, 'M'), 'POSITION', (p) => {
      for (let i = 0; i < p.length; i += 3) p[i] = -p[i];
    });
    expect(findForm(readModel(d))).toMatchObject({ size: 'M', factor: 1, mirrored: true, rmsMm: 0 });
    expect(findForm(readModel(formDocument(form, 'M')))).toMatchObject({ mirrored: false });
  });
  test('something else of as many triangles is not taken for it', () => {
    const d = new Document();
    const n = FORM_TRIANGLES.skin * 3;
    const array = Float32Array.from({ length: n * 3 }, (_, i) => Math.sin(i * 12.9898) * 0.2);
    const list = (type: 'VEC3' | 'SCALAR', a: Float32Array | Uint32Array) =>
      d
        .createAccessor()
        .setType(type)
        .setArray(a as Float32Array<ArrayBuffer>)
        .setBuffer(d.getRoot().listBuffers()[0] ?? d.createBuffer());
    const p = d
      .createPrimitive()
      .setAttribute('POSITION', list('VEC3', array))
      .setIndices(
        list(
          'SCALAR',
          Uint32Array.from({ length: n }, (_, i) => i),
        ),
      );
    d.getRoot().setDefaultScene(d.createScene().addChild(d.createNode().setMesh(d.createMesh('x').addPrimitive(p))));
    expect(findForm(readModel(d))).toBeNull();
  });
});

describe('what is said of a model made upon the form', () => {
  const credit = { author: '', source: '', licence: 'own-work' };
  const said = (d: Document, uponForm: boolean) =>
    judgeFindings(inspectModel({ document: d, format: 'glb' }, 1), { kind: 'headwear', credit, changed: true, uponForm, pictures: [] })
      .map((f) => f.code)
      .filter((c) => /^(placing|form)\//.test(c));
  test('the form tells its place: no guess is made beside it', () => {
    const d = formDocument(form, 'M');
    expect(said(d, false)).toEqual(['form/shape']);
    applyTransform(d, { factor: 100, turn: zUp.clone(), shiftM: [0, 0, 3] });
    expect(said(d, false)).toEqual(['form/moved', 'form/shape']);
  });
  test('once it is out, what lies beside the origin stays where it is', async () => {
    const away = await new WebIO().readBinary((await boxGlb([0.05, 0.02, 0.03], [0, 0.02, 0.4])) as Uint8Array<ArrayBuffer>);
    expect(said(away, false)).toContain('placing/pivot');
    expect(said(away, true)).toEqual([]);
  });
});

describe('the form as OBJ', () => {
  test('has every vertex, UV and triangle, to the hundredth of a millimetre', () => {
    const lines = formObj(form, 'M').split('\n');
    const of = (key: string) => lines.filter((l) => l.startsWith(`${key} `));
    expect([of('v').length, of('vt').length, of('f').length]).toEqual([
      form.positions.length / 3,
      form.uvs.length / 2,
      FORM_TRIANGLES.whole,
    ]);
    const [x, y, z] = of('v')[100].split(' ').slice(1).map(Number);
    for (const [k, v] of [x, y, z].entries()) expect(Math.abs(v - form.positions[300 + k])).toBeLessThan(1e-6);
  });
});

describe('a re-sculpted copy', () => {
  /** A bump of a centimetre on the chin, as wide as a thumb. */
  const bump = (p: ArrayLike<number>, v: number) => {
    const c = form.landmarks.menton.position;
    const d = Math.hypot(...[0, 1, 2].map((k) => p[v * 3 + k] - c[k]));
    return d < 0.04 ? 0.01 * Math.cos((d / 0.04) * (Math.PI / 2)) ** 2 : 0;
  };
  const carved = () =>
    edit(formDocument(form, 'M'), 'POSITION', (p) => {
      for (let v = 0; v < p.length / 3; v++) p[v * 3 + 2] += bump(form.positions, v);
    });

  test('an accidental size, turn and shift are taken out and told; what was sculpted is what is left, at every vertex', () => {
    const document = carved();
    const turn = new Quaternion(0.2, 0.5, -0.1, 0.8).normalize();
    applyTransform(document, { factor: 12, turn, shiftM: [3, -1, 0.5] });
    const told = sculptOf(readModel(document));
    expect(told?.factor).toBeCloseTo(1 / 12, 6);
    expect(told?.size).toBe('M');
    expect(told?.mostMm).toBeCloseTo(10, 1);
    let most = 0;
    const o = told?.offM ?? [];
    for (let v = 0; v < form.positions.length / 3; v++)
      most = Math.max(most, Math.hypot(o[v * 3], o[v * 3 + 1], o[v * 3 + 2] - bump(form.positions, v)));
    expect(most * 1000).toBeLessThan(0.02);
  });
  test('untouched it stands off by nothing; mirrored elsewhere it comes back on its own side; of other vertices it is none', async () => {
    expect(Math.max(...(sculptOf(readModel(formDocument(form, 'M')))?.offM ?? [9]))).toBe(0);
    const document = carved();
    for (const mesh of document.getRoot().listMeshes())
      for (const a of new Set(mesh.listPrimitives().map((q) => q.getAttribute('POSITION'))))
        a?.setArray((a.getArray() as Float32Array).map((x, i) => (i % 3 === 0 ? -x : x)) as Float32Array<ArrayBuffer>);
    const told = sculptOf(readModel(document));
    expect(told?.mirrored).toBe(true);
    expect(told?.offM[form.landmarks.menton.index * 3 + 2]).toBeCloseTo(0.01, 4);
    const other = await new WebIO().readBinary((await boxGlb()) as Uint8Array<ArrayBuffer>);
    expect(sculptOf(readModel(other))).toBeNull();
  });
});
