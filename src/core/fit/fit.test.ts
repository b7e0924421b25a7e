import { Matrix4 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { simulateCapture } from '../capture';
import { bendForm, type Form, makeForm, POSES, regionIndices, SKELETONS } from '../form';
import { formBase } from '../form/samples';
import { type Model, readGltf, readModel } from '../intake';
import { boxGlb, rawGlb } from '../intake/samples';
import { offsetMatrix } from '../math';
import {
  add,
  applyEdit,
  batch,
  change,
  changePart,
  createGroup,
  createModelItem,
  createModelPart,
  createOccluder,
  createPiece,
  createScreen,
  createSolid,
  type Edit,
  type ModelPart,
  onAnchor,
  onPart,
  type Piece,
} from '../piece';
import { stageStill, worldShapes } from '../run';
import { mendOf, putBehind, type Sight, screenLayer, whyHidden } from './index';
import { boxInHead, headSizeFactor } from './mend';

let form: Form;
let box: Model;
let clear: Model;
let empty: Model;
beforeAll(async () => {
  form = makeForm(formBase(), 'M');
  const open = async (b: Uint8Array) => readModel((await readGltf(b, {})).document);
  box = await open(await boxGlb());
  clear = await open(await boxGlb([0.05, 0.05, 0.05], [0, 0, 0], 0));
  empty = await open(rawGlb({ asset: { version: '2.0' }, scene: 0, scenes: [{ nodes: [0] }], nodes: [{}] }));
});

function pieceWith(change: Partial<ModelPart> = {}): Piece {
  let p = applyEdit(
    createPiece('Sight'),
    add('stock', createModelItem({ id: 's', name: 'b.glb', original: 'a'.repeat(64), model: 'b'.repeat(64), bytes: 1 })),
  );
  const part = { ...createModelPart('p', 's', 'Box'), ...change };
  p = applyEdit(p, add('parts', part));
  return p;
}

function look(piece: Piece, model: Model = box, turn = POSES[2] as { yawDeg: number; pitchDeg: number; rollDeg: number }): Sight {
  const capture = simulateCapture(turn, SKELETONS.M);
  const assets = { models: { ['b'.repeat(64)]: model } };
  const state = stageStill(piece, assets, capture);
  const staged = state.parts.find((s) => s.id === 'p');
  if (!staged || !capture.head || !state.form) throw new Error('nothing staged');
  const bent = { positions: new Float32Array(form.positions.length), normals: new Float32Array(form.positions.length) };
  const bone = (m: readonly number[]) => new Matrix4().fromArray(m as number[]);
  bendForm(form, { head: bone(state.form.head), neck: bone(state.form.neck), bust: bone(state.form.bust) }, bent);
  return {
    part: piece.parts.p,
    piece,
    shapes: worldShapes(staged, assets),
    found: staged.found,
    camera: capture.camera,
    widthPx: 320,
    heightPx: 560,
    frame: bone(staged.matrix).multiply(offsetMatrix(piece.parts.p.offset).invert()).toArray(),
    head: capture.head,
    form: { positions: bent.positions, indices: form.indices },
    hides: state.parts.flatMap((p): Sight['hides'] => {
      if (!p.shown || !p.occludes) return [];
      if (p.shape?.type === 'form')
        return [{ part: p.id, ofForm: true, positions: bent.positions, indices: regionIndices(form, p.shape.region) }];
      const [own] = worldShapes(p, assets);
      return [{ part: p.id, ofForm: false, positions: own.positions, indices: Uint32Array.from(own.triangles) }];
    }),
    headBreadthM: 0.151,
  };
}
const at = (positionM: [number, number, number], size = 1): Partial<ModelPart> => ({
  offset: { positionM, turnRad: [0, 0, 0], size: [size, size, size] },
});
const cause = (change: Partial<ModelPart>, model?: Model, turn?: Parameters<typeof look>[2]) =>
  whyHidden(look(pieceWith(change), model, turn)).cause;

describe('whyHidden', () => {
  test('a box before the face is seen', () => expect(cause(at([0, 0, 0.2]))).toBe('seen'));
  test('hidden', () => expect(cause({ visible: false })).toBe('hidden'));
  test('not hung', () => expect(cause({ hang: null })).toBe('not-hung'));
  test('no triangles', () => expect(cause({}, empty)).toBe('no-triangles'));
  test('fully transparent, by the part and by its materials', () => {
    expect(whyHidden(look(pieceWith({ opacity: 0 })))).toEqual({ cause: 'transparent', byMaterial: false });
    expect(whyHidden(look(pieceWith(at([0, 0, 0.2])), clear))).toEqual({ cause: 'transparent', byMaterial: true });
    expect(cause({ ...at([0, 0, 0.2]), solid: true }, clear)).toBe('seen');
  });
  test('outside the picture, beside it and behind the camera', () => {
    for (const away of [
      [5, 0, 0],
      [-5, 0, 0],
      [0, 5, 0],
      [0, -5, 0],
      [0, 0, 9],
    ] as const)
      expect(cause(at([...away]))).toBe('outside');
  });
  test('the camera is inside it: 100 times too large', () => {
    const c = whyHidden(look(pieceWith(at([0, 0, 0], 100))));
    expect(c.cause).toBe('camera-inside');
    expect(c.cause === 'camera-inside' && c.headWidths).toBeCloseTo(10 / 0.151, 3);
  });
  test('too small: a hundredth of a box is a few pixels', () => {
    const c = whyHidden(look(pieceWith(at([0, 0, 0.2], 0.01))));
    expect(c).toMatchObject({ cause: 'too-small', far: false });
    // 1 mm at 0.85 m, 29° over 560 px: 560 · 0.001 / (2 · 0.85 · tan 14.5°) = 1.27 px
    expect(c.cause === 'too-small' && c.pixels).toBeCloseTo(1.27, 1);
  });
  test('under 6 px it is too small, a little over it is seen', () => {
    // edge e at 0.85 m: e · 280 / tan 14.5° / 0.85 px
    const size = (px: number) => (px * 0.85 * Math.tan((14.5 * Math.PI) / 180)) / 280 / 0.1;
    expect(cause(at([0, 0, 0.2], size(5.8)))).toBe('too-small');
    expect(cause(at([0, 0, 0.2], size(6.2)))).toBe('seen');
  });
  test('too small because far: brought nearer where it is larger than 3 cm, else made larger', () => {
    const mend = (edgeM: number) => {
      const s = look(pieceWith(at([0.8, 0, -6.95], edgeM / 0.1)));
      const c = whyHidden(s);
      expect(c.cause).toBe('too-small');
      return mendOf(s, c, [])?.label;
    };
    expect(mend(0.036)).toBe('Bring it to the head');
    expect(mend(0.028)).toMatch(/about a head wide/);
  });
  test('a few millimetres under the skin it is buried, a few over it seen', () => {
    const [, up, fore] = form.landmarks.glabella.position;
    // a cube of 6 mm
    expect(cause(at([0, up, fore - 0.006], 0.06))).toBe('inside-form');
    expect(cause(at([0, up, fore + 0.004], 0.06))).toBe('seen');
  });
  test('clear is what has no opaque shape at all', () => {
    const s = look(pieceWith(at([0, 0, 0.2])));
    const [shape] = s.shapes;
    expect(whyHidden({ ...s, shapes: [{ ...shape, alpha: 0 }, shape] }).cause).toBe('seen');
    expect(
      whyHidden({
        ...s,
        shapes: [
          { ...shape, alpha: 0 },
          { ...shape, alpha: 0 },
        ],
      }),
    ).toEqual({ cause: 'transparent', byMaterial: true });
  });
  test('a wall ten metres wide behind the wearer crosses the picture though none of its corners is in it', () => {
    const wall = (turn?: Parameters<typeof look>[2]) =>
      whyHidden(look(applyEdit(pieceWith(at([0, 0, -8], 100)), changePart('head-block', { visible: false })), box, turn)).cause;
    expect(wall()).toBe('seen');
    expect(cause(at([0, 60, 0], 100))).toBe('outside');
  });
  test('inside the form', () => expect(cause(at([0, 0.03, 0], 0.4))).toBe('inside-form'));
  test('behind an occluder: a box at the nape', () => expect(cause(at([0, 0, -0.25], 0.5))).toBe('behind-occluder'));
  test('of several that hide the one that does is named: a cap of hair hides no chin, a solid hides what is behind it', () => {
    const cap = { ...createOccluder('cap'), name: 'Hair cap', region: 'hair' as const, growMm: 8 };
    const nape = applyEdit(pieceWith(at([0, -0.08, -0.2], 0.15)), add('parts', cap, 0));
    expect(whyHidden(look(nape))).toEqual({ cause: 'behind-occluder', part: 'head-block', name: nape.parts['head-block'].name });
    const capAlone = applyEdit(nape, changePart('head-block', { visible: false }));
    expect(whyHidden(look(applyEdit(capAlone, changePart('p', at([0, -0.1, -0.15], 0.15))))).cause).toBe('seen');
    const shape = { form: 'box' as const, sizeMm: [300, 300, 10] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };
    const board = {
      ...createSolid('board', 'Board', shape),
      occludes: true,
      offset: { positionM: [0, 0, 0.4], turnRad: [0, 0, 0], size: [1, 1, 1] },
    };
    const behind = applyEdit(pieceWith(at([0, 0, 0.2])), add('parts', board as never));
    expect(whyHidden(look(behind))).toEqual({ cause: 'behind-occluder', part: 'board', name: 'Board' });
    expect(mendOf(look(behind), whyHidden(look(behind)), [])?.label).toBe('Hide Board');
    expect(whyHidden(look(applyEdit(behind, changePart('board', { occludes: false })))).cause).toBe('seen');
  });
  test('with the occluder off, nothing hides', () => {
    const off = applyEdit(pieceWith(at([0, 0, -0.25], 0.5)), changePart('head-block', { visible: false }));
    expect(whyHidden(look(off)).cause).toBe('seen');
  });
  const hangIn = (group: Partial<ReturnType<typeof createGroup>>, change: Partial<ModelPart> = at([0, 0, 0.2])) =>
    applyEdit(pieceWith(change), batch([add('parts', { ...createGroup('g', 'Hat'), ...group }), changePart('p', { hang: onPart('g') })]));
  test('a group it hangs in is hidden, or hangs nowhere', () => {
    expect(whyHidden(look(hangIn({ visible: false })))).toEqual({ cause: 'hidden-with', part: 'g', name: 'Hat' });
    expect(whyHidden(look(hangIn({ hang: null }))).cause).toBe('not-hung');
    expect(whyHidden(look(hangIn({}))).cause).toBe('seen');
  });
  test('its layer is switched off; its anchor is not seen', () => {
    const off = applyEdit(pieceWith(at([0, 0, 0.2])), change('layers', 'main', { visible: false }));
    expect(whyHidden(look(off))).toEqual({ cause: 'layer-off', layer: 'main', name: 'Main' });
    expect(whyHidden({ ...look(pieceWith(at([0, 0, 0.2]))), found: false })).toEqual({ cause: 'no-anchor', anchor: 'head' });
  });
  test('behind the matte where the wearer covers all of it, seen where part of it looks out', () => {
    let n = 0;
    const behind = (x: number, size: number) => {
      const p = pieceWith({ offset: { positionM: [x, 0.03, -0.3], turnRad: [0, 0, 0], size: [size, size, size] } });
      return look(
        applyEdit(
          p,
          putBehind(p, ['p'], () => `l${n++}`),
        ),
      );
    };
    expect(whyHidden(behind(0, 0.5)).cause).toBe('behind-matte');
    expect(whyHidden(behind(0, 5)).cause).toBe('seen');
    expect(whyHidden(behind(0.2, 0.5)).cause).toBe('seen');
  });
  test('a screen drawn after it covers all; one that lies within leaves it seen', () => {
    const screened = (set: Parameters<typeof createScreen>[3]) => {
      const p = pieceWith(at([0, 0, 0.2]));
      const { edits, layer } = screenLayer(p, 'foreground', () => 'fore');
      return whyHidden(look(applyEdit(p, batch([...edits, add('parts', createScreen('veil', 'Veil', layer, set))]))));
    };
    expect(screened({ colour: '#000000' })).toEqual({ cause: 'behind-screen', part: 'veil', name: 'Veil' });
    expect(screened({ colour: '#000000', opacity: 0.4 }).cause).toBe('seen');
    expect(screened({ colour: null, fit: 'within' }).cause).toBe('seen');
    // with nothing to show it covers nothing
    expect(screened({ colour: null, fit: 'cover' }).cause).toBe('seen');
  });
  test('causes are checked in their order: hidden comes before not hung, not hung before transparent', () => {
    expect(cause({ visible: false, hang: null, opacity: 0 })).toBe('hidden');
    expect(cause({ hang: null, opacity: 0 })).toBe('not-hung');
    expect(cause({ opacity: 0, ...at([9, 0, 0]) })).toBe('transparent');
  });
});

test('the box in the head’s space is that of every corner, wherever the head turns to', () => {
  const hung = pieceWith({ hang: onAnchor('head'), ...at([0.01, 0.02, 0.2]) });
  for (const turn of POSES.slice(0, 4)) {
    const all = boxInHead(look(hung, box, turn));
    const [min, max] = [all.slice(0, 3), all.slice(3)];
    // 50 mm to each side, as boxGlb makes it
    expect(max.map((m, k) => (m - min[k]) * 1000)).toEqual([100, 100, 100].map((mm) => expect.closeTo(mm, 2)));
    expect(max.map((m, k) => (m + min[k]) / 2)).toEqual([0.01, 0.02, 0.2].map((m) => expect.closeTo(m, 5)));
  }
});

describe('mendOf', () => {
  /** Presses the mend until the part is seen; every press must change the cause or the piece. */
  function mendAll(start: Piece, model: Model = box): string[] {
    const trail: string[] = [];
    let piece = start;
    let turn: Parameters<typeof look>[2] = POSES[2];
    for (let i = 0; i < 8; i++) {
      if (!piece.parts.p) return [...trail, 'gone'];
      const s = look(piece, model, turn);
      const c = whyHidden(s);
      trail.push(c.cause);
      if (c.cause === 'seen') return trail;
      const seenAt = POSES.filter((p) => whyHidden(look(piece, model, p)).cause === 'seen');
      const mend = mendOf(s, c, seenAt);
      if (!mend) throw new Error(`no mend for ${c.cause}`);
      if (mend.act.kind === 'pose') turn = mend.act.pose;
      else piece = applyEdit(piece, mend.act.edit as Edit);
    }
    throw new Error(`never seen: ${trail.join(' → ')}`);
  }
  test.each<[string, Partial<ModelPart>]>([
    ['hidden', { visible: false, ...at([0, 0, 0.2]) }],
    ['not hung', { hang: null, ...at([0, 0, 0.2]) }],
    ['clear', { opacity: 0, ...at([0, 0, 0.2]) }],
    ['beside', at([7, 3, 0])],
    ['huge', at([0, 0, 0], 140)],
    ['tiny', at([0, 0, 0.2], 0.001)],
    ['buried', at([0, 0.03, 0], 0.3)],
    ['at the nape', at([0, 0, -0.25], 0.5)],
    ['on the shoulders, beside the picture', { hang: onAnchor('shoulders'), ...at([3, 1, 0]) }],
    ['everything at once', { visible: false, hang: null, opacity: 0, ...at([400, -20, 3], 100) }],
  ])('%s: pressing leads to a part that is seen', (_, change) => {
    expect(mendAll(pieceWith(change)).at(-1)).toBe('seen');
  });
  test('each new cause has a mend that leads to a part that is seen', () => {
    let n = 0;
    const p = pieceWith({ offset: { positionM: [0, 0.03, -0.3], turnRad: [0, 0, 0], size: [0.5, 0.5, 0.5] } });
    const behind = applyEdit(
      p,
      putBehind(p, ['p'], () => `l${n++}`),
    );
    expect(mendAll(behind).slice(0, 1)).toEqual(['behind-matte']);
    const q = pieceWith(at([0, 0, 0.2]));
    expect(mendAll(applyEdit(q, change('layers', 'main', { visible: false })))).toEqual(['layer-off', 'seen']);
    const g = applyEdit(q, batch([add('parts', { ...createGroup('g', 'Hat'), visible: false }), changePart('p', { hang: onPart('g') })]));
    expect(mendAll(g)).toEqual(['hidden-with', 'seen']);
    const { edits, layer } = screenLayer(q, 'foreground', () => 'fore');
    expect(mendAll(applyEdit(q, batch([...edits, add('parts', createScreen('v', 'Veil', layer, { colour: '#000000' }))])))).toEqual([
      'behind-screen',
      'seen',
    ]);
  });
  test('a file of clear materials is drawn solid; one without triangles is lifted off', () => {
    expect(mendAll(pieceWith(at([0, 0, 0.2])), clear)).toEqual(['transparent', 'seen']);
    expect(mendAll(pieceWith(), empty)).toEqual(['no-triangles', 'gone']);
  });
  test('the unit is one that leaves half to 2.2 heads; else the size is exact', () => {
    const head = 0.151;
    expect(headSizeFactor(30, head)).toBe(0.01);
    expect(headSizeFactor(7.7, head)).toBe(0.01);
    expect(headSizeFactor(33, head)).toBe(0.01);
    // 0.36 m is over 2.2 heads, 0.036 under half of one
    expect(headSizeFactor(36, head)).toBeCloseTo(head / 36, 9);
    expect(headSizeFactor(150, head)).toBe(0.001);
  });
  test('a size that is wrong by a unit is mended by that unit', () => {
    const s = look(pieceWith(at([0, 0, 0], 140)));
    const mend = mendOf(s, whyHidden(s), []);
    expect(mend?.label).toBe('Make it about a head wide (×0.01)');
  });
});
