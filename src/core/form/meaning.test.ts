/**
 * The form by what its landmarks and expressions mean, and beside the measures of people. Landmarks after Farkas, Anthropometry of
 * the Head and Face, 1994, and ISO 7250-1, from memory; expressions after FACS (Ekman, Friesen, Hager, 2002), from memory.
 */
import { beforeAll, describe, expect, test } from 'vitest';
import { FORM_SIZES, type Form, type FormBase, type LandmarkName, makeForm, PRESETS } from './index';
import { formBase } from './samples';

let base: FormBase;
let form: Form;
beforeAll(() => {
  base = formBase();
  form = makeForm(base, 'M');
});
type Point = readonly [number, number, number];
/** Millimetres. */
const at = (f: Form, v: number): Point => [f.positions[v * 3] * 1000, f.positions[v * 3 + 1] * 1000, f.positions[v * 3 + 2] * 1000];
const mark = (name: LandmarkName, f = form): Point => at(f, f.landmarks[name].index);
const gap = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const skinOf = (f: Form) => {
  const skin = f.regions.names.indexOf('skin');
  return [...f.regions.ids.keys()].filter((v) => f.regions.ids[v] === skin);
};
const midline = () =>
  skinOf(form)
    .map((v) => at(form, v))
    .filter(([x, , z]) => Math.abs(x) < 0.5 && z > 0);

describe('landmarks mean what they are called', () => {
  test('glabella is the foremost point of the forehead on the midline, sellion the deepest of the root of the nose below it', () => {
    const [glabella, sellion, pronasale] = [mark('glabella'), mark('sellion'), mark('pronasale')];
    const forehead = midline().filter(([, y]) => y > sellion[1] + 3 && y < sellion[1] + 45);
    expect(Math.max(...forehead.map((p) => p[2])) - glabella[2]).toBeLessThan(0.3);
    const root = midline().filter(([, y]) => y > pronasale[1] + 12 && y < glabella[1]);
    expect(sellion[2] - Math.min(...root.map((p) => p[2]))).toBeLessThan(0.5);
    expect(glabella[1]).toBeGreaterThan(sellion[1]);
  });
  test('pronasale is the foremost point of the head, menton the lowest of the chin, opisthocranion the farthest from glabella', () => {
    const all = skinOf(form).map((v) => at(form, v));
    expect(Math.max(...all.map((p) => p[2])) - mark('pronasale')[2]).toBeLessThan(0.3);
    const chin = midline().filter(([, y, z]) => z > 72 && y > -135);
    expect(mark('menton')[1] - Math.min(...chin.map((p) => p[1]))).toBeLessThan(1.5);
    const [x, up, fore] = mark('gnathion');
    expect(Math.abs(x)).toBeLessThan(0.01);
    // before and above menton, below the foremost of the chin, and none of it further that way
    expect(fore - up).toBeGreaterThanOrEqual(Math.max(...chin.map((p) => p[2] - p[1])));
    expect(up).toBeGreaterThan(mark('menton')[1] + 1);
    expect(fore).toBeGreaterThan(mark('menton')[2] + 4);
    expect(fore).toBeLessThan(Math.max(...chin.filter((p) => p[1] < up + 20).map((p) => p[2])));
    const far = midlineBack().map((p) => gap(p, mark('glabella')));
    expect(Math.max(...far) - gap(mark('opisthocranion'), mark('glabella'))).toBeLessThan(0.5);
  });
  test('gonion is the corner of the jaw: between ear and chin, to the side, behind the mouth', () => {
    for (const side of ['L', 'R'] as const) {
      const [x, y, z] = mark(`gonion${side}`);
      expect(Math.abs(x)).toBeGreaterThan(Math.abs(mark(`cheilion${side}`)[0]) + 15);
      expect(y).toBeLessThan(mark(`cheilion${side}`)[1] + 5);
      expect(y).toBeGreaterThan(mark('menton')[1]);
      expect(z).toBeLessThan(mark(`cheilion${side}`)[2] - 40);
      expect(z).toBeGreaterThan(mark(`tragion${side}`)[2] - 5);
    }
  });
  test('the ear: superaurale above, subaurale below, postaurale behind the tragion; the eyes between their corners', () => {
    for (const side of ['L', 'R'] as const) {
      const tragion = mark(`tragion${side}`);
      expect(mark(`superaurale${side}`)[1]).toBeGreaterThan(tragion[1] + 15);
      expect(mark(`subaurale${side}`)[1]).toBeLessThan(tragion[1] - 15);
      expect(mark(`postaurale${side}`)[2]).toBeLessThan(tragion[2] - 10);
      const [inner, pupil, outer] = (['endocanthion', 'pupil', 'ectocanthion'] as const).map((n) => Math.abs(mark(`${n}${side}`)[0]));
      expect(inner).toBeLessThan(pupil);
      expect(pupil).toBeLessThan(outer);
      expect(outer - inner).toBeGreaterThan(22);
      expect(outer - inner).toBeLessThan(38);
      expect(Math.abs(mark(`alare${side}`)[0])).toBeLessThan(Math.abs(mark(`cheilion${side}`)[0]));
    }
  });
});
const midlineBack = () =>
  skinOf(form)
    .map((v) => at(form, v))
    .filter(([x, y, z]) => Math.abs(x) < 0.5 && z < 0 && y > -20);

/** 5th percentile of women to 95th of men, mm: NIOSH and ANSUR II surveys of heads, from memory, rounded outward. */
const PEOPLE = {
  headLength: [174, 213],
  headBreadth: [134, 166],
  bizygomaticBreadth: [122, 156],
  bitragionBreadth: [120, 160],
  faceLength: [98, 136],
  interpupillaryDistance: [54, 72],
  noseProtrusion: [14, 27],
  noseBreadth: [27, 44],
} as const;
test('sizes S, M and L are sizes that people have, in that order', () => {
  for (const [k, [least, most]] of Object.entries(PEOPLE) as [keyof typeof PEOPLE, readonly [number, number]][]) {
    for (const size of FORM_SIZES) {
      expect(PRESETS[size][k], `${size} ${k}`).toBeGreaterThan(least);
      expect(PRESETS[size][k], `${size} ${k}`).toBeLessThan(most);
    }
    expect(PRESETS.S[k]).toBeLessThan(PRESETS.M[k]);
    expect(PRESETS.M[k]).toBeLessThan(PRESETS.L[k]);
  }
  const jaw = gap(mark('gonionL'), mark('gonionR'));
  expect(jaw).toBeGreaterThan(85);
  expect(jaw).toBeLessThan(135);
});

describe('expressions do what FACS says', () => {
  const moved = (unit: 'AU1_2' | 'AU4') => {
    const f = makeForm(base, 'M', { [unit]: 1 });
    return skinOf(f).map((v) => {
      const [a, b] = [at(form, v), at(f, v)];
      return { rest: a, by: [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as Point };
    });
  };
  /** How high the eye is open before the pupil, mm: where a look straight on meets the eyeball, every quarter of a millimetre. */
  const open = (f: Form, side: 'L' | 'R') => {
    const [x, y] = mark(`pupil${side}`);
    const eye = f.regions.names.indexOf('eye');
    let steps = 0;
    for (let up = -9; up <= 9; up += 0.25) if (firstHit(f, x, y + up) === eye) steps++;
    return steps * 0.25;
  };
  /** Region of the foremost triangle over a place, mm. */
  const firstHit = (f: Form, x: number, y: number) => {
    let [front, region] = [-Infinity, -1];
    for (let t = 0; t < f.indices.length; t += 3) {
      const [a, b, c] = [at(f, f.indices[t]), at(f, f.indices[t + 1]), at(f, f.indices[t + 2])];
      if (Math.max(a[2], b[2], c[2]) < 0 || Math.min(a[0], b[0], c[0]) > x || Math.max(a[0], b[0], c[0]) < x) continue;
      const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
      const u = ((b[0] - x) * (c[1] - y) - (b[1] - y) * (c[0] - x)) / area;
      const v = ((c[0] - x) * (a[1] - y) - (c[1] - y) * (a[0] - x)) / area;
      if (!(u >= 0 && v >= 0 && u + v <= 1)) continue;
      const z = u * a[2] + v * b[2] + (1 - u - v) * c[2];
      if (z > front) [front, region] = [z, f.regions.ids[f.indices[t]]];
    }
    return region;
  };

  test('brows rise by 4 to 9 mm with AU1+2, and nothing under the eyes moves', () => {
    const all = moved('AU1_2');
    const most = all.reduce((a, b) => (b.by[1] > a.by[1] ? b : a));
    expect(most.by[1]).toBeGreaterThan(4);
    expect(most.by[1]).toBeLessThan(9);
    // over the eyes
    expect(most.rest[1]).toBeGreaterThan(mark('pupilL')[1] + 8);
    for (const { rest, by } of all) if (rest[1] < mark('orbitaleL')[1] - 5) expect(Math.hypot(...by)).toBeLessThan(0.5);
    expect(Math.min(...all.map((m) => m.by[1]))).toBeGreaterThan(-1);
  });
  test('brows come down and together with AU4', () => {
    const all = moved('AU4');
    const most = all.reduce((a, b) => (b.by[1] < a.by[1] ? b : a));
    expect(most.by[1]).toBeLessThan(-2);
    expect(most.by[1]).toBeGreaterThan(-9);
    expect(most.rest[1]).toBeGreaterThan(mark('pupilL')[1] + 3);
    const inner = all.filter(({ rest }) => rest[0] > 6 && rest[0] < 22 && Math.abs(rest[1] - most.rest[1]) < 6 && rest[2] > 60);
    expect(inner.reduce((s, m) => s + m.by[0], 0)).toBeLessThan(0);
  });
  test.each(['L', 'R'] as const)('the lids of eye %s are open at rest and meet with AU45; half of it is half shut', (side) => {
    const other = side === 'L' ? 'R' : 'L';
    expect(open(form, side)).toBeGreaterThan(7);
    expect(open(form, side)).toBeLessThan(14);
    const shut = makeForm(base, 'M', { [`AU45_${side}`]: 1 });
    expect(open(shut, side)).toBeLessThan(1);
    // the other eye stays as it was
    expect(open(shut, other)).toBe(open(form, other));
    const half = makeForm(base, 'M', { [`AU45_${side}`]: 0.5 });
    expect(open(half, side) / open(form, side)).toBeGreaterThan(0.3);
    expect(open(half, side) / open(form, side)).toBeLessThan(0.75);
  });
});
