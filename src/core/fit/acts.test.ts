import { Matrix4 } from 'three';
import { describe, expect, test } from 'vitest';
import { simulateCapture } from '../capture';
import { libraryFinish } from '../finish';
import { SKELETONS } from '../form';
import {
  type Anchor,
  add,
  anchorOf,
  applyEdit,
  batch,
  changePart,
  createGroup,
  createModelItem,
  createModelPart,
  createPiece,
  createScreen,
  createSolid,
  type Edit,
  hangOn,
  onAnchor,
  onPart,
  Piece,
  StockItem,
} from '../piece';
import { compile, restFramesOf, stageStill } from '../run';
import {
  copyParts,
  duplicate,
  group,
  isBehind,
  liftOff,
  mirror,
  putBefore,
  putBehind,
  rehang,
  screenLayer,
  takeOutLayer,
  topOf,
  ungroup,
} from './acts';
import { pasteParts } from './paste';

const BOX = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };
const at = (id: string, x: number, y = 0, z = 0, turnRad: [number, number, number] = [0, 0, 0]) => ({
  ...createSolid(id, id.toUpperCase(), BOX),
  offset: { positionM: [x, y, z] as [number, number, number], turnRad, size: [1, 1, 1] as [number, number, number] },
});
const hat = () =>
  applyEdit(
    createPiece('Hat'),
    batch([add('parts', at('a', 0.1, 0.2)), add('parts', at('b', -0.05, 0.1, 0.02, [0.2, 0.4, 0])), add('parts', at('c', 0, 0.15))]),
  );
const frames = (p: Piece) => restFramesOf(compile(p, { models: {} }));
const world = (p: Piece, id: string) =>
  stageStill(p, { models: {} }, simulateCapture({ yawDeg: 0, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M)).parts.find((x) => x.id === id)
    ?.matrix as number[];
const same = (a: readonly number[], b: readonly number[]) => {
  for (const [i, x] of a.entries()) expect(x).toBeCloseTo(b[i], 7);
};
let n = 0;
const newId = () => `n${n++}`;
const done = (p: Piece, e: Edit) => Piece.parse(applyEdit(p, e));

describe('acts of the rack', () => {
  test('hung elsewhere a part stays where it is seen, or comes to lie at its new anchor', () => {
    const p = hat();
    const kept = done(p, rehang(p, frames(p), ['b'], onAnchor('shoulders'), true));
    expect(anchorOf(kept, kept.parts.b)).toBe('shoulders');
    same(world(kept, 'b'), world(p, 'b'));
    const put = done(p, rehang(p, frames(p), ['b'], onAnchor('shoulders'), false));
    expect(put.parts.b.offset.positionM).toEqual([0, 0, 0]);
    const onto = done(p, rehang(p, frames(p), ['b'], onPart('a'), true));
    same(world(onto, 'b'), world(p, 'b'));
    expect(() => applyEdit(onto, rehang(onto, frames(onto), ['a'], onPart('b'), true))).toThrow(/cannot hang in itself/);
  });

  test('grouping moves nothing, and taking apart gives all back where it was', () => {
    const p = hat();
    const g = done(p, group(p, frames(p), ['a', 'b', 'c'], 'g', 'Hat'));
    expect(g.parts.g.offset.positionM.map((x) => x)).toEqual([0.0167, 0.15, 0.0067]);
    for (const id of ['a', 'b', 'c']) {
      same(world(g, id), world(p, id));
      expect(g.parts[id].hang).toEqual(onPart('g'));
    }
    expect(g.orders.parts.indexOf('g')).toBe(p.orders.parts.indexOf('a'));
    const apart = done(g, ungroup(g, frames(g), 'g'));
    expect(apart.parts.g).toBeUndefined();
    for (const id of ['a', 'b', 'c']) same(world(apart, id), world(p, id));
  });

  test('of what hangs together only the uppermost is spoken to', () => {
    const p = done(hat(), group(hat(), frames(hat()), ['a', 'b'], 'g', 'Hat'));
    expect(topOf(p, ['a', 'g', 'c']).map((x) => x.id)).toEqual(['g', 'c']);
    expect(Object.keys(done(p, liftOff(p, ['g', 'a', 'c'])).parts)).toEqual(['head-block']);
  });

  test('a copy brings what hangs from it, under its own names and ids', () => {
    const p = done(hat(), group(hat(), frames(hat()), ['a', 'b'], 'g', 'Hat'));
    const { edit, ids } = duplicate(p, ['g'], newId);
    const q = done(p, edit);
    expect(Object.keys(q.parts)).toHaveLength(Object.keys(p.parts).length + 3);
    expect(q.parts[ids[0]]).toMatchObject({ name: 'Hat, copy', kind: 'group' });
    const inside = Object.values(q.parts).filter((x) => x.hang?.on === 'part' && x.hang.part === ids[0]);
    expect(inside.map((x) => x.name)).toEqual(['A', 'B']);
    same(world(q, inside[0].id), world(p, 'a'));
  });

  test('copies of several stand each behind its own: the first ones move those after it along', () => {
    const p = hat();
    const before = p.orders.parts;
    const { edit, ids } = duplicate(p, [before[0], before[1]], newId);
    expect(done(p, edit).orders.parts).toEqual([before[0], ids[0], before[1], ids[1], ...before.slice(2)]);
  });

  test('so do copies of what carries others: what stands after them moves along by all that came', () => {
    const g = done(hat(), group(hat(), frames(hat()), ['a', 'b'], 'g', 'Hat'));
    const p = done(g, add('parts', at('z', 0)));
    const { edit, ids } = duplicate(p, ['g', 'c', 'z'], newId);
    const after = done(p, edit).orders.parts;
    // each right behind the last of what it is a copy of
    const last = (id: string) => Math.max(...[id, ...(id === 'g' ? ['a', 'b'] : [])].map((x) => after.indexOf(x)));
    for (const [k, id] of ['g', 'c', 'z'].entries()) expect(after.indexOf(ids[k])).toBe(last(id) + 1);
  });

  test('the other side is the mirror image of where it was, twice is home', () => {
    const p = done(hat(), group(hat(), frames(hat()), ['a', 'b'], 'g', 'Hat'));
    const other = done(p, mirror(p, ['g']));
    for (const id of ['a', 'b']) {
      const flip = new Matrix4().makeScale(-1, 1, 1);
      const want = flip
        .clone()
        .multiply(new Matrix4().fromArray(world(p, id)))
        .multiply(flip);
      same(world(other, id), want.elements);
    }
    const home = done(other, mirror(other, ['g']));
    same(world(home, 'b'), world(p, 'b'));
  });

  test('on the other side hand, eye, ear and skin are the other ones; a pair is a copy there, with what hangs from it', () => {
    const on: Anchor[] = [
      { kind: 'joint', joint: 'leftHand' },
      { kind: 'ear', side: 'right' },
      { kind: 'eye' },
      { kind: 'face', landmark: 'cheilionL' },
      { kind: 'face', landmark: 'stomion' },
      { kind: 'face', triangle: 813, bary: [0.2, 0.3, 0.5] },
    ];
    const across: Anchor[] = [
      { kind: 'joint', joint: 'rightHand' },
      { kind: 'ear', side: 'left' },
      { kind: 'eye' },
      { kind: 'face', landmark: 'cheilionR' },
      { kind: 'face', landmark: 'stomion' },
      { kind: 'face', triangle: 812, bary: [0.2, 0.5, 0.3] },
    ];
    on.forEach((anchor, i) => {
      const p = done(hat(), changePart('a', { hang: hangOn(anchor) }));
      expect(done(p, mirror(p, ['a'])).parts.a.hang).toEqual(hangOn(across[i]));
    });
    const p = done(hat(), group(hat(), frames(hat()), ['a', 'b'], 'g', 'Hat'));
    const two = duplicate(p, ['g'], newId, { other: true });
    const both = done(p, two.edit);
    const other = done(p, mirror(p, ['g']));
    expect(Object.keys(both.parts)).toHaveLength(Object.keys(p.parts).length + 3);
    same(world(both, 'b'), world(p, 'b'));
    const copy = Object.values(both.parts).find((q) => q.hang?.on === 'part' && q.hang.part === two.ids[0] && q.name === p.parts.b.name);
    same(world(both, copy?.id ?? ''), world(other, 'b'));
    expect(both.parts[two.ids[0]].name).toBe('Hat, other side');
  });

  test('behind the wearer in one press makes a layer before a matte, once; before it brings back', () => {
    const p = hat();
    const behind = done(p, putBehind(p, ['a'], newId));
    const kinds = behind.orders.layers.map((id) => behind.layers[id].kind);
    expect(kinds).toEqual(['camera', 'parts', 'matte', 'parts']);
    expect(isBehind(behind, behind.parts.a)).toBe(true);
    expect(isBehind(behind, behind.parts.b)).toBe(false);
    const both = done(behind, putBehind(behind, ['b'], newId));
    expect(both.orders.layers).toEqual(behind.orders.layers);
    expect(both.parts.b.layer).toBe(both.parts.a.layer);
    const back = done(both, putBefore(both, ['a']));
    expect(back.parts.a.layer).toBe('main');
  });

  test('a backdrop comes before what stands behind the wearer, whichever was first; a foreground is last', () => {
    const p = hat();
    for (const first of ['backdrop', 'behind'] as const) {
      let q = p;
      const screen = () => {
        const { edits, layer } = screenLayer(q, 'backdrop', newId);
        q = done(q, batch([...edits, add('parts', createScreen(newId(), 'Sea', layer, { colour: '#112233' }))]));
      };
      if (first === 'backdrop') screen();
      q = done(q, putBehind(q, ['a'], newId));
      if (first === 'behind') screen();
      expect(
        q.orders.layers.map((id) => q.layers[id].kind),
        first,
      ).toEqual(['camera', 'screen', 'parts', 'matte', 'parts']);
      const fore = screenLayer(q, 'foreground', newId);
      expect(done(q, batch(fore.edits)).orders.layers.at(-1)).toBe(fore.layer);
    }
  });

  test('a layer taken out gives its parts to another of its kind', () => {
    const p = hat();
    const behind = done(p, putBehind(p, ['a'], newId));
    const out = done(behind, takeOutLayer(behind, behind.parts.a.layer));
    expect(out.parts.a.layer).toBe('main');
    expect(() => applyEdit(p, takeOutLayer(p, 'main'))).toThrow(/is used by part/);
  });

  test('copied into another piece parts bring their files, and use the same where it is there', () => {
    const sha = (c: string) => c.repeat(64);
    const item = createModelItem({ id: 's', name: 'b.glb', original: sha('a'), model: sha('b'), bytes: 1 });
    const p = applyEdit(
      hat(),
      batch([add('stock', item), add('parts', createModelPart('m', 's', 'M', onPart('a'))), changePart('b', { hang: onPart('c') })]),
    );
    const clip = JSON.parse(JSON.stringify(copyParts(p, ['a', 'b'])));
    expect(clip.parts.map((x: { id: string }) => x.id)).toEqual(['a', 'm', 'b']);
    const fresh = createPiece('Other');
    const pasted = pasteParts(fresh, clip, newId);
    const q = done(fresh, pasted.edit);
    expect(pasted.ids).toHaveLength(2);
    const m = Object.values(q.parts).find((x) => x.kind === 'model');
    expect(m && m.kind === 'model' && q.stock[m.stock].original).toBe(sha('a'));
    expect(m?.hang).toEqual(onPart(pasted.ids[0]));
    // what hung from c, which was not copied, hangs nowhere here
    expect(q.parts[pasted.ids[1]].hang).toBeNull();
    const again = done(q, pasteParts(q, clip, newId).edit);
    expect(Object.keys(again.stock)).toHaveLength(1);
    // in the piece it came from it hangs where it hung
    const home = pasteParts(p, clip, newId);
    expect(done(p, home.edit).parts[home.ids[1]].hang).toEqual(onPart('c'));
  });

  test('what is worn comes along, with the pictures of its maps; what is there already is used', () => {
    const picture = StockItem.parse({
      id: 'pic',
      kind: 'picture',
      name: 'p.png',
      original: 'c'.repeat(64),
      model: 'd'.repeat(64),
      bytes: 1,
    });
    const base = { stock: 'pic', uv: 0 as const, offset: [0, 0] as [number, number], repeat: [2, 2] as [number, number], turnDeg: 0 };
    const brass = libraryFinish('brass', 'f');
    const p = done(hat(), batch([add('stock', picture), add('finishes', { ...brass, maps: { ...brass.maps, base } })]));
    const worn = done(p, changePart('a', { wears: { '*': 'f' } }));
    const clip = JSON.parse(JSON.stringify(copyParts(worn, ['a'])));
    const q = done(createPiece('Other'), pasteParts(createPiece('Other'), clip, newId).edit);
    const [finish] = Object.values(q.finishes);
    const part = Object.values(q.parts).find((x) => x.name === 'A');
    expect([finish.name, part?.wears]).toEqual(['Brass', { '*': finish.id }]);
    const map = finish.maps.base;
    expect(map && map !== 'own' && q.stock[map.stock].name).toBe('p.png');
    const again = done(q, pasteParts(q, clip, newId).edit);
    expect([Object.keys(again.finishes).length, Object.keys(again.stock).length]).toEqual([1, 1]);
    // of a program that knew no finishes
    const { finishes: _, ...older } = clip;
    const bare = done(createPiece('Old'), pasteParts(createPiece('Old'), older, newId).edit);
    expect(Object.values(bare.parts).find((x) => x.name === 'A')?.wears).toEqual({});
  });

  test('an empty group can be made of nothing but a place', () => {
    const p = applyEdit(hat(), add('parts', createGroup('g', 'G')));
    expect(done(p, ungroup(p, frames(p), 'g')).parts.g).toBeUndefined();
  });
});
