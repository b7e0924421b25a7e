/** What the face does, by what each unit means (FACS, Ekman, Friesen and Hager, 2002, from memory), and points that go along with it. */
import { Matrix4, Quaternion, Vector3 } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { ACTION_UNITS, type Expression, type LandmarkName, weightsOf } from '.';
import { nearFacePlace, placeUnder } from './faceplaces';
import { type FacePlace, facePoint, facePointFrame } from './facepoint';
import { expressForm, type Form, makeForm } from './form';
import { type FormSize, SKIN_TRIANGLES } from './measures';
import { formBase } from './samples';
import { bendBones, bendForm, SKELETONS } from './skeleton';

let form: Form;
beforeAll(() => {
  form = makeForm(formBase(), 'M');
});
const expressed = (e: Expression, of = form) => {
  const out = { positions: new Float32Array(of.positions.length), normals: new Float32Array(of.positions.length) };
  expressForm(of, weightsOf(e), out);
  return out;
};
/** How a landmark moves, mm: side, up, fore. */
const moved = (e: Expression, name: LandmarkName) => {
  const { positions } = expressed(e);
  const i = form.landmarks[name].index * 3;
  return [0, 1, 2].map((k) => (positions[i + k] - form.positions[i + k]) * 1000);
};
const up = (e: Expression, name: LandmarkName) => moved(e, name)[1];

describe('expressions', () => {
  test('a form made with one and a made form that takes it on are the same', () => {
    for (const size of ['S', 'L'] as const) {
      const e: Expression = { AU26: 0.7, AU12_L: 0.8, AU45_R: 0.5, AU30_L: 0.6, AU61: 0.4, AU9: 0.3 };
      const made = makeForm(formBase(), size, e);
      const taken = expressed(e, makeForm(formBase(), size));
      let apart = 0;
      let turned = 0;
      for (let i = 0; i < made.positions.length; i++) {
        apart = Math.max(apart, Math.abs(made.positions[i] - taken.positions[i]));
        turned = Math.max(turned, Math.abs(made.normals[i] - taken.normals[i]));
      }
      expect(apart).toBeLessThan(1e-7);
      expect(turned).toBeLessThan(1e-2);
    }
  });
  test('cheek, nose, corners and lips go where their units say, by millimetres that faces do', () => {
    expect(up({ AU15: 1 }, 'cheilionL')).toBeLessThan(-3);
    expect(up({ AU12: 1 }, 'cheilionL')).toBeGreaterThan(3);
    expect(up({ AU9: 1 }, 'alareL')).toBeGreaterThan(2);
    expect(Math.abs(up({ AU9_R: 1 }, 'alareL'))).toBeLessThan(0.3);
    const [side, , fore] = moved({ AU18: 1 }, 'cheilionL');
    expect(side).toBeLessThan(-4);
    expect(fore).toBeGreaterThan(2);
    expect(moved({ AU18: 1 }, 'labialeSuperius')[2]).toBeGreaterThan(3);
    // the cheek below the eye, not the nose
    expect(up({ AU6: 1 }, 'orbitaleL')).toBeGreaterThan(0.5);
    expect(Math.abs(up({ AU6: 1 }, 'pronasale'))).toBeLessThan(0.5);
  });
  test('the jaw goes to the side it is said to, the upper lip and the rest of the head stay', () => {
    expect(moved({ AU30_L: 1 }, 'menton')[0]).toBeGreaterThan(4);
    expect(moved({ AU30_R: 1 }, 'menton')[0]).toBeLessThan(-4);
    expect(moved({ AU30_L: 1 }, 'labialeSuperius')[0]).toBeCloseTo(0, 6);
    expect(moved({ AU30_L: 1, AU30_R: 1 }, 'menton').every((x) => Math.abs(x) < 1e-4)).toBe(true);
  });
  test('eyes turn about their middle where one looks, and lids follow', () => {
    const pupil = (e: Expression) => moved(e, 'pupilL');
    expect(pupil({ AU61: 1 })[0]).toBeGreaterThan(5);
    expect(pupil({ AU62: 1 })[0]).toBeLessThan(-5);
    expect(pupil({ AU63: 1 })[1]).toBeGreaterThan(4);
    expect(pupil({ AU64: 1 })[1]).toBeLessThan(-5);
    const { positions } = expressed({ AU61: 1, AU63: 0.5 });
    const { ball } = form.face.fields;
    const centre = [31.5, 15, 70.5].map((x, k) => x + form.face.eyeShift[k]);
    for (let v = 0; v < ball.length; v++) {
      if (!ball[v] || form.positions[v * 3] < 0) continue;
      const far = (p: ArrayLike<number>) => Math.hypot(...centre.map((c, k) => p[v * 3 + k] * 1000 - c));
      expect(Math.abs(far(positions) - far(form.positions))).toBeLessThan(1e-3);
    }
    expect(lidTop({ AU64: 1 })).toBeLessThan(lidTop({}) - 1.5);
    expect(lidTop({ AU63: 1 })).toBeGreaterThan(lidTop({}) + 0.8);
    expect(lidTop({ AU5: 1 })).toBeGreaterThan(lidTop({}) + 1);
    expect(lidTop({ AU45: 1 })).toBeLessThan(lidTop({}) - 6);
  });
  /** The lowest place of the left upper lid's rim above the pupil, mm. */
  function lidTop(e: Expression): number {
    const { positions } = expressed(e);
    const { upperLid } = form.face.fields;
    let most = 0;
    let rim = -1;
    for (let v = 0; v < upperLid.length; v++)
      if (form.positions[v * 3] > 0 && Math.abs(upperLid[v]) > most) [most, rim] = [Math.abs(upperLid[v]), v];
    return positions[rim * 3 + 1] * 1000;
  }
  test('both sides alike are mirror images, on every unit there is', () => {
    const base = formBase();
    for (const unit of ['AU5', 'AU6', 'AU9', 'AU15', 'AU18', 'AU26'] as const) {
      const { positions } = expressed({ [unit]: 1 });
      for (let v = 0; v < base.mirror.length; v++) {
        const m = base.mirror[v];
        if (m === undefined) continue;
        expect(Math.abs(positions[v * 3] + positions[m * 3]), `${unit} ${v}`).toBeLessThan(1e-6);
        expect(Math.abs(positions[v * 3 + 1] - positions[m * 3 + 1]), `${unit} ${v}`).toBeLessThan(1e-6);
      }
    }
  });
  test('no unit tears: no edge of the skin grows fourfold by more than a few mm, but in the lids', () => {
    const { names, ids } = form.regions;
    for (const unit of ACTION_UNITS) {
      const { positions } = expressed({ [unit]: 1 });
      let worst = 0;
      for (let t = 0; t < SKIN_TRIANGLES * 3; t += 3)
        for (let k = 0; k < 3; k++) {
          const [a, b] = [form.indices[t + k], form.indices[t + ((k + 1) % 3)]];
          if ([a, b].some((v) => ['lid', 'mouth', 'lips'].includes(names[ids[v]]))) continue;
          const long = (p: ArrayLike<number>) => Math.hypot(...[0, 1, 2].map((i) => (p[a * 3 + i] - p[b * 3 + i]) * 1000));
          worst = Math.max(worst, (long(positions) - 3) / Math.max(1, long(form.positions)));
        }
      expect(worst, unit).toBeLessThan(2.2);
    }
  });
});

describe('points of the skin', () => {
  const still = new Matrix4();
  const bones = bendBones(still, null, SKELETONS.M);
  const frameOf = (place: FacePlace, e: Expression = {}, held = bones, of = form) => {
    const point = facePoint(of, place);
    if (!point) throw new Error('no such place');
    return facePointFrame(of, point, weightsOf(e), held, new Matrix4());
  };
  const origin = (m: Matrix4) => new Vector3().setFromMatrixPosition(m);
  const axis = (m: Matrix4, k: number) => new Vector3().setFromMatrixColumn(m, k);

  test('a landmark’s point is there, +Z out of the skin, +Y up, in right-handed axes', () => {
    for (const name of ['glabella', 'pronasale', 'labialeInferius', 'cheilionL', 'zygionR', 'vertex', 'cervicale'] as const) {
      const m = frameOf({ landmark: name });
      const { index, position } = form.landmarks[name];
      expect(origin(m).distanceTo(new Vector3(...position))).toBeLessThan(1e-7);
      const n = new Vector3().fromArray(form.normals, index * 3);
      expect(axis(m, 2).dot(n)).toBeGreaterThan(0.9999);
      if (Math.abs(n.y) < 0.9) expect(axis(m, 1).y).toBeGreaterThan(0.3);
      expect(axis(m, 0).cross(axis(m, 1)).dot(axis(m, 2))).toBeCloseTo(1, 6);
    }
  });
  test('it moves as the form’s own vertices do: on every form, in every expression, turned and bent', () => {
    const head = new Matrix4().compose(
      new Vector3(0.02, -0.01, 0.1),
      new Quaternion().setFromAxisAngle(new Vector3(0.2, 1, 0.1).normalize(), 0.7),
      new Vector3(1, 1, 1),
    );
    for (const size of ['S', 'M', 'L'] as FormSize[]) {
      const of = makeForm(formBase(), size);
      const e: Expression = { AU26: 0.8, AU12: 0.5, AU9: 1, AU45: 0.3 };
      const held = bendBones(head, new Matrix4().makeTranslation(...SKELETONS[size].shouldersM), SKELETONS[size]);
      const out = { positions: new Float32Array(of.positions.length), normals: new Float32Array(of.positions.length) };
      bendForm(of, held, out, expressed(e, of));
      for (let t = 0; t < of.indices.length / 3; t += 397) {
        const bary = [0.2, 0.3, 0.5] as const;
        const m = frameOf({ triangle: t, bary }, e, held, of);
        const want = new Vector3();
        bary.forEach((b, k) => {
          want.addScaledVector(new Vector3().fromArray(out.positions, of.indices[t * 3 + k] * 3), b);
        });
        expect(origin(m).distanceTo(want.applyMatrix4(head)), `${size} ${t}`).toBeLessThan(2e-7);
      }
    }
  });
  test('the lower lip’s goes down and turns with the jaw, the crown’s stays', () => {
    const [rest, open] = [frameOf({ landmark: 'labialeInferius' }), frameOf({ landmark: 'labialeInferius' }, { AU26: 1 })];
    expect(origin(open).y).toBeLessThan(origin(rest).y - 0.01);
    const turned = axis(rest, 2).angleTo(axis(open, 2)) * (180 / Math.PI);
    expect(turned).toBeGreaterThan(5);
    expect(turned).toBeLessThan(25);
    expect(frameOf({ landmark: 'vertex' }, { AU26: 1 }).elements).toEqual(frameOf({ landmark: 'vertex' }).elements);
  });
  test('what is pressed is found: the nearest skin along the ray, with shares that sum to 1; beside the form nothing', () => {
    const from = new Vector3(0.03, -0.02, 1);
    const hit = placeUnder(form, form.positions, from, new Vector3(0, 0, -1));
    expect(hit?.bary?.reduce((a, b) => a + b)).toBeCloseTo(1, 9);
    const at = origin(frameOf(hit as FacePlace));
    expect(at.x).toBeCloseTo(0.03, 5);
    expect(at.y).toBeCloseTo(-0.02, 5);
    expect(at.z).toBeGreaterThan(0.05);
    expect(placeUnder(form, form.positions, from, new Vector3(1, 0, 0))).toBeNull();
    // what is not drawn is not met
    const hidden = form.positions.map((x, i) => (form.positions[i - (i % 3) + 2] > 0 ? Number.NaN : x));
    const behind = placeUnder(form, hidden, from, new Vector3(0, 0, -1));
    expect(behind === null || origin(frameOf(behind)).z < 0).toBe(true);
  });
  test('the other side of a skin’s triangle is the next one, its last two corners changed about', () => {
    expect(form.groups[0].count).toBe(SKIN_TRIANGLES * 3);
    for (let t = 0; t < SKIN_TRIANGLES; t += 231) {
      const a = origin(frameOf({ triangle: t, bary: [0.5, 0.3, 0.2] }));
      const b = origin(frameOf({ triangle: t ^ 1, bary: [0.5, 0.2, 0.3] }));
      expect(a.x + b.x, `${t}`).toBeCloseTo(0, 6);
      expect(a.y, `${t}`).toBeCloseTo(b.y, 6);
    }
  });
  test('where it is, in words: the landmark it is near, and on whose side; a triangle that is none is none', () => {
    expect(nearFacePlace(form, { landmark: 'cheilionR' })).toMatchObject({ landmark: 'cheilionR', side: 'right' });
    expect(nearFacePlace(form, { landmark: 'pronasale' })?.side).toBe('middle');
    expect(facePoint(form, { triangle: 999_999, bary: [1, 0, 0] })).toBeNull();
    expect(facePoint(form, { triangle: 3, bary: [0, 0, 0] })).toBeNull();
  });
});
