import { beforeAll, describe, expect, test } from 'vitest';
import { seededRandom } from '../math/quantity';
import { ACTION_UNITS, type Form, type FormBase, FormError, type FormSize, LANDMARKS, MEASURES, makeForm, PRESETS } from './index';
import { formBase } from './samples';

let base: FormBase;
beforeAll(() => {
  base = formBase();
});

/**
 * Measures by separate code: from the 32-bit positions and landmark indices alone, never from the form's own table.
 * Definitions after ISO 7250-1 (head length, breadth, face length, interpupillary distance), from memory.
 */
function measure(f: Form): Record<string, number> {
  const at = (name: keyof Form['landmarks']) => {
    const i = f.landmarks[name].index * 3;
    return [f.positions[i] * 1000, f.positions[i + 1] * 1000, f.positions[i + 2] * 1000];
  };
  const d = (a: number[], b: number[]) => Math.sqrt((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2);
  const mm = {
    headLength: d(at('glabella'), at('opisthocranion')),
    headBreadth: d(at('euryonL'), at('euryonR')),
    bizygomaticBreadth: d(at('zygionL'), at('zygionR')),
    bitragionBreadth: d(at('tragionL'), at('tragionR')),
    faceLength: d(at('sellion'), at('menton')),
    interpupillaryDistance: d(at('pupilL'), at('pupilR')),
    noseProtrusion: d(at('subnasale'), at('pronasale')),
    noseBreadth: d(at('alareL'), at('alareR')),
  };
  return mm;
}

const seeded = (seed: number) => {
  const random = seededRandom(seed);
  return Object.fromEntries(MEASURES.map((k) => [k, PRESETS.S[k] + (PRESETS.L[k] - PRESETS.S[k]) * (random() * 1.2 - 0.1)])) as Record<
    (typeof MEASURES)[number],
    number
  >;
};

describe('makeForm', () => {
  test.each(['S', 'M', 'L'] as FormSize[])('size %s meets its measures within 0.5 mm', (size) => {
    const got = measure(makeForm(base, size));
    for (const k of MEASURES) expect(Math.abs(got[k] - PRESETS[size][k]), k).toBeLessThan(0.5);
  });

  test.each(Array.from({ length: 20 }, (_, i) => i + 1))('seeded set %i meets its measures within 0.5 mm', (seed) => {
    const asked = seeded(seed);
    const got = measure(makeForm(base, asked));
    for (const k of MEASURES) expect(Math.abs(got[k] - asked[k]), k).toBeLessThan(0.5);
  });

  test('head breadth is the widest the cranium gets: no skin vertex above the ear lies outside euryon', () => {
    const f = makeForm(base, 'M');
    const skin = f.regions.names.indexOf('skin');
    let widest = 0;
    f.regions.ids.forEach((r, v) => {
      if (r === skin && f.positions[v * 3 + 1] > 0.045) widest = Math.max(widest, Math.abs(f.positions[v * 3]) * 2000);
    });
    expect(widest).toBeCloseTo(PRESETS.M.headBreadth, 1);
  });

  test('the origin is midway between the tragions and the Frankfurt plane is level', () => {
    const { landmarks } = makeForm(base, 'L');
    const [l, r] = [landmarks.tragionL.position, landmarks.tragionR.position];
    for (let k = 0; k < 3; k++) expect((l[k] + r[k]) / 2).toBeCloseTo(0, 7);
    expect(landmarks.orbitaleL.position[1]).toBeCloseTo(0, 6);
  });

  test('the wearer’s left is +side, the face looks fore, the vertex is up', () => {
    const { landmarks } = makeForm(base, 'M');
    expect(landmarks.tragionL.position[0]).toBeGreaterThan(0.05);
    expect(landmarks.pronasale.position[2]).toBeGreaterThan(0.1);
    expect(landmarks.vertex.position[1]).toBeGreaterThan(0.1);
    expect(Object.keys(landmarks).sort()).toEqual([...LANDMARKS].sort());
  });

  test('topology is fixed, numbers are finite, normals are unit, the left mirrors the right', () => {
    const [a, b] = [makeForm(base, 'S'), makeForm(base, seeded(99), { AU26: 1 })];
    expect(b.indices).toBe(a.indices);
    expect(a.positions.length).toBe(b.positions.length);
    for (const array of [b.positions, b.normals, b.uvs, b.colors]) expect(array.every(Number.isFinite)).toBe(true);
    for (let v = 0; v < a.normals.length; v += 3 * 97)
      expect(Math.hypot(a.normals[v], a.normals[v + 1], a.normals[v + 2])).toBeCloseTo(1, 5);
    for (let v = 0; v < base.halfCount; v += 13) {
      const m = base.mirror[v];
      expect(a.positions[m * 3]).toBeCloseTo(-a.positions[v * 3], 6);
      expect(a.positions[m * 3 + 1]).toBeCloseTo(a.positions[v * 3 + 1], 6);
    }
  });

  test('winding is consistent and outward: no directed edge twice, positive volume', () => {
    const f = makeForm(base, 'M');
    const edges = new Set<string>();
    let volume = 0;
    const p = (v: number) => [f.positions[v * 3], f.positions[v * 3 + 1], f.positions[v * 3 + 2]];
    const count = f.groups[0].count;
    for (let t = 0; t < count; t += 3) {
      const v = [f.indices[t], f.indices[t + 1], f.indices[t + 2]];
      for (let k = 0; k < 3; k++) {
        const key = `${base.weld[v[k]]}_${base.weld[v[(k + 1) % 3]]}`;
        expect(edges.has(key)).toBe(false);
        edges.add(key);
      }
      const [a, b, c] = v.map(p);
      volume += (a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0])) / 6;
    }
    expect(volume).toBeGreaterThan(0.005);
  });

  test('a head circumference within reach comes out as asked, by tape', () => {
    for (const mm of [545, 560, 575]) expect(makeForm(base, { headCircumference: mm }).headCircumferenceMm).toBeCloseTo(mm, 2);
  });

  test('action units move what they name and nothing far from it', () => {
    const rest = makeForm(base, 'M');
    const moved = (e: Parameters<typeof makeForm>[2], name: keyof Form['landmarks']) => {
      const [a, b] = [rest.landmarks[name].position, makeForm(base, 'M', e).landmarks[name].position];
      return [b[0] - a[0], b[1] - a[1], b[2] - a[2]].map((x) => x * 1000);
    };
    expect(moved({ AU26: 1 }, 'menton')[1]).toBeLessThan(-10);
    expect(moved({ AU26: 1 }, 'glabella').every((x) => Math.abs(x) < 1e-6)).toBe(true);
    expect(moved({ AU12_L: 1 }, 'cheilionL')[1]).toBeGreaterThan(3);
    expect(Math.abs(moved({ AU12_L: 1 }, 'cheilionR')[1])).toBeLessThan(0.5);
  });

  test('zero weights are the neutral form, bit by bit', () => {
    const zero = Object.fromEntries(ACTION_UNITS.map((k) => [k, 0]));
    expect(makeForm(base, 'M', zero).positions).toEqual(makeForm(base, 'M').positions);
  });

  test('a measure that is no number, or out of range, is refused by name', () => {
    expect(() => makeForm(base, { headLength: Number.NaN })).toThrow(FormError);
    expect(() => makeForm(base, { noseBreadth: 2 })).toThrow(/noseBreadth must be 10–700 mm; got 2/);
  });
});
