import { beforeAll, describe, expect, test } from 'vitest';
import { type Form, makeForm } from '../form';
import { formBase } from '../form/samples';
import type { Box } from '../math/box';
import { type LandmarkAt, seatOf } from './seats';

let form: Form;
beforeAll(() => {
  form = makeForm(formBase(), 'M');
});
const at: LandmarkAt = (name) => form.landmarks[name].position;
/** A box of millimetres about a point. */
const box = (w: number, h: number, d: number, [x, y, z] = [0, 0, 0]): Box =>
  [x - w / 2, y - h / 2, z - d / 2, x + w / 2, y + h / 2, z + d / 2].map((v) => v / 1000) as Box;
const moved = (b: Box, by: readonly number[]) => b.map((v, i) => v + by[i % 3]);

describe('a thing is seated where its kind is worn', () => {
  test('spectacles: lenses before the eyes, the bridge outside the head, temples towards the ears', () => {
    const b = box(140, 48, 150);
    const seated = moved(b, seatOf('eyewear', b, at) as number[]);
    const [, eyeY, eyeZ] = at('pupilL');
    expect((seated[1] + seated[4]) / 2).toBeCloseTo(eyeY, 3);
    // 12 to 14 mm before the eye: before the sellion too, so the bridge is not in the head
    expect(seated[5] - eyeZ).toBeCloseTo(0.013, 3);
    expect(seated[5]).toBeGreaterThan(at('sellion')[2]);
    // 150 mm back from there the temples end behind the ears
    expect(seated[2]).toBeLessThan(at('tragionL')[2]);
  });
  test('a hat: on the skull, not over the eyes; an earring from the wearer’s left lobe; a mask before the nose', () => {
    const hat = box(200, 150, 230);
    const worn = moved(hat, seatOf('headwear', hat, at) as number[]);
    expect(worn[1]).toBeGreaterThan(at('glabella')[1]);
    expect(worn[1]).toBeLessThan(at('vertex')[1]);
    const drop = box(14, 40, 10);
    const hung = moved(drop, seatOf('earring', drop, at) as number[]);
    expect(hung[4]).toBeCloseTo(at('subauraleL')[1] + 0.002, 3);
    expect((hung[0] + hung[3]) / 2).toBeCloseTo(at('subauraleL')[0], 3);
    const mask = box(165, 200, 100);
    expect(moved(mask, seatOf('mask', mask, at) as number[])[5]).toBeCloseTo(at('pronasale')[2] + 0.004, 3);
  });
  test('not what has no seat, is of another unit, or lies there already', () => {
    expect(seatOf('prop', box(140, 48, 150), at)).toBeNull();
    expect(seatOf('eyewear', box(14_000, 4_800, 15_000), at)).toBeNull();
    expect(seatOf('eyewear', box(1.4, 0.5, 1.5), at)).toBeNull();
    const there = box(140, 48, 150, [0, 20, 20]);
    expect(seatOf('eyewear', there, at)).toBeNull();
    expect(seatOf('eyewear', box(140, 48, 150, [0, 20, -60]), at)).not.toBeNull();
  });
});
