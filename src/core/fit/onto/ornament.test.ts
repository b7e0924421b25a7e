/** Rings, gems and beads on the skin: wherever, however large and however turned they come. */
import {
  type BufferGeometry,
  CircleGeometry,
  CylinderGeometry,
  Euler,
  Matrix4,
  Quaternion,
  SphereGeometry,
  TorusGeometry,
  Vector3,
} from 'three';
import { describe, expect, test } from 'vitest';
import { SEED, share } from '../../../../e2e/support/sweep';
import { type FacePlace, facePoint, facePointFrame, makeForm } from '../../form';
import { formBase } from '../../form/samples';
import { seededRandom } from '../../math';
import { type Fitted, fitIt, SURE_FIT } from './fitit';
import { headOf } from './head';
import { shapesOf } from './samples';

const base = formBase();
const head = headOf(makeForm(base, 'M'));
const { form } = head.exact;
const MM = new Matrix4().makeScale(0.001, 0.001, 0.001);
const still = new Matrix4();
function skinAt(place: FacePlace): Matrix4 {
  const point = facePoint(form, place);
  if (!point) throw new Error('no such place');
  return facePointFrame(form, point, {}, { head: still, neck: still, bust: still }, new Matrix4());
}
const put = (made: BufferGeometry[], by: Matrix4, at: FacePlace, keepSize = false) =>
  fitIt(shapesOf(made, by), { kind: 'earring', gapM: 0.0005, keepSize, at }, head);
const matrixOf = (f: Fitted) => {
  if (!f.onto) throw new Error(`unsure: ${f.reason}`);
  return new Matrix4().compose(f.onto.shiftM, f.onto.turn, new Vector3(1, 1, 1).multiplyScalar(f.onto.factor));
};

/** Millimetres. */
const ring = () => [new TorusGeometry(4.4, 0.6, 12, 48)];
const beaded = () => [new TorusGeometry(4.4, 0.6, 12, 48), new SphereGeometry(1.8, 16, 12).translate(0, -4.4, 0)];
const open = () => [new TorusGeometry(4.4, 0.6, 12, 48, Math.PI * 1.7)];
/** A dome with a flat foot at z = 0. */
const dome = () => [
  new SphereGeometry(3, 24, 12, 0, 2 * Math.PI, 0, Math.PI / 2).rotateX(Math.PI / 2),
  new CircleGeometry(3, 24).rotateY(Math.PI),
];
const ball = () => [new SphereGeometry(2.5, 24, 16)];
const UNITS = [1, 1000, 100, 1 / 0.0254];
const PLACES: FacePlace[] = [{ landmark: 'labialeInferius' }, { landmark: 'alareL' }, { landmark: 'zygionR' }, { landmark: 'glabella' }];

function ways(n: number) {
  const random = seededRandom(SEED);
  return Array.from({ length: n }, (_, i) => {
    const angle = () => (i % 2 === 0 ? (Math.floor(random() * 4) * Math.PI) / 2 : random() * 2 * Math.PI);
    const k = UNITS[Math.floor(random() * UNITS.length)];
    const shift = new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).multiplyScalar(k);
    const turn = new Quaternion().setFromEuler(new Euler(angle(), angle(), angle()));
    return { by: new Matrix4().compose(shift, turn, new Vector3(k, k, k)).multiply(MM), at: PLACES[i % 4], said: `seed ${SEED}, way ${i}` };
  });
}

describe('on the skin', () => {
  test.each([
    ['a ring', ring],
    ['a ring with a bead', beaded],
    ['an open ring', open],
  ])('%s: its middle on the skin, its plane upright and out of the skin, as large as it was', (_, make) => {
    for (const { by, at, said } of ways(share(24))) {
      const told = put(make(), by, at);
      expect(told.confidence, said).toBeGreaterThan(SURE_FIT);
      const m = matrixOf(told).multiply(by);
      const skin = skinAt(at);
      const middle = new Vector3().applyMatrix4(m);
      expect(middle.distanceTo(new Vector3().setFromMatrixPosition(skin)), said).toBeLessThan(2e-4);
      const axis = new Vector3(0, 0, 1).transformDirection(m);
      expect(Math.abs(axis.dot(new Vector3().setFromMatrixColumn(skin, 0))), said).toBeGreaterThan(0.999);
      expect(new Vector3().setFromMatrixScale(m).x * 1000, said).toBeCloseTo(1, 1);
    }
  });
  test('its bead is before the skin', () => {
    for (const { by, at, said } of ways(share(12))) {
      const m = matrixOf(put(beaded(), by, at)).multiply(by);
      const way = new Vector3(0, -4.4, 0).applyMatrix4(m).sub(new Vector3().applyMatrix4(m)).normalize();
      expect(way.dot(new Vector3().setFromMatrixColumn(skinAt(at), 2)), said).toBeGreaterThan(0.99);
    }
  });
  test('a dome lies on its flat foot at the gap, a ball on any side', () => {
    for (const { by, at, said } of ways(share(12))) {
      const skin = skinAt(at);
      const out = new Vector3().setFromMatrixColumn(skin, 2);
      const m = matrixOf(put(dome(), by, at)).multiply(by);
      expect(new Vector3(0, 0, 1).transformDirection(m).dot(out), said).toBeGreaterThan(0.999);
      const off = new Vector3().applyMatrix4(m).sub(new Vector3().setFromMatrixPosition(skin));
      expect(off.dot(out) * 1000, said).toBeCloseTo(0.5, 1);
      const b = new Vector3().applyMatrix4(matrixOf(put(ball(), by, at)).multiply(by)).sub(new Vector3().setFromMatrixPosition(skin));
      expect(b.dot(out) * 1000, said).toBeCloseTo(3, 1);
    }
  });
  test('a size that is kept is kept; what is neither ring nor flat nor round is not claimed, and says why', () => {
    const told = put(ring(), MM.clone().premultiply(new Matrix4().makeScale(1.7, 1.7, 1.7)), PLACES[0], true);
    expect(told.onto?.factor).toBe(1);
    for (const made of [[new CylinderGeometry(1, 1, 12)], [new TorusGeometry(4, 0.6, 12, 48, Math.PI * 0.8)]]) {
      const none = put(made, MM, PLACES[0]);
      expect(none.onto).toBeNull();
      expect(none.reason).toMatch(/neither a ring nor flat nor round/);
    }
    expect(fitIt([], { kind: 'earring', gapM: 0, keepSize: false, at: PLACES[0] }, head).reason).toMatch(/no surface/);
    expect(put(ring(), MM, { triangle: 999_999, bary: [1, 0, 0] }).reason).toMatch(/no such place/);
  });
});
