import { Matrix4, SphereGeometry } from 'three';
import { beforeAll, describe, expect, test } from 'vitest';
import { simulateCapture } from '../capture';
import { makeForm, SKELETONS } from '../form';
import { drawnBody, restOfSize, shapeBody } from '../form/body';
import { bodyBase, formBase } from '../form/samples';
import { bendBones } from '../form/skeleton';
import type { WearerFrames } from './bent';
import { CastMeasure, type ClearanceCell, type Measured } from './cells';
import { BEYOND_M } from './clearance';

let wearer: { form: ReturnType<typeof makeForm>; body: null };
beforeAll(() => {
  wearer = { form: makeForm(formBase(), 'M'), body: null };
});

/** The head straight and its neck and shoulders turned below it: as a turned head has them. */
function frames(yawDeg: number): WearerFrames {
  const { head } = simulateCapture({ yawDeg, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M);
  const bones = bendBones(new Matrix4().fromArray(head as number[]), null, SKELETONS.M);
  return { head: bones.head.toArray(), neck: bones.neck.toArray(), bust: bones.bust.toArray(), body: null };
}
const ball = (at: readonly [number, number, number], radius = 0.012) => {
  const g = new SphereGeometry(radius, 24, 16);
  return {
    positions: Float32Array.from(g.getAttribute('position').array, (x, i) => x + at[i % 3]),
    triangles: Uint32Array.from(g.index?.array ?? []),
  };
};

/** What is told of a place that is far says only that it is. */
const near = (m: Measured | null) => m?.distances.map((of) => Array.from(of, (d) => (d > BEYOND_M ? Infinity : d))) ?? [];

describe('a cast and its poses', () => {
  test('what was measured before is kept only where nothing nearer has moved: as if each were asked by itself', () => {
    const { landmarks } = wearer.form;
    const shapes = (['tragionL', 'pronasale', 'cervicale', 'acromionR', 'gonionL'] as const).map((n) => ball(landmarks[n].position));
    const together = new CastMeasure();
    for (const yaw of [0, 60, -35, 0]) {
      const cell: ClearanceCell = { shapes, frames: frames(yaw), sight: null };
      const kept = together.measure('M', wearer, cell);
      const alone = new CastMeasure().measure('M', wearer, cell);
      expect(kept?.clearance).toEqual(alone?.clearance);
      expect(near(kept)).toEqual(near(alone));
    }
    // the neck has moved below a head that turned: there it is not as before
    const [straight, turned] = [0, 60].map((yaw) => new CastMeasure().measure('M', wearer, { shapes, frames: frames(yaw), sight: null }));
    expect(near(turned)[0]).toEqual(near(straight)[0]);
    expect(near(turned)[3]).not.toEqual(near(straight)[3]);
  });

  test('the deepest place is told by the landmark it lies next to, the wearer’s own left and right', () => {
    for (const [name, radius] of [
      ['tragionR', 0.01],
      ['pronasale', 0.006],
    ] as const) {
      const cell = { shapes: [ball(wearer.form.landmarks[name].position, radius)], frames: frames(0), sight: null };
      expect(new CastMeasure().measure('M', wearer, cell)?.near).toBe(name);
    }
    const far = new CastMeasure().measure('M', wearer, { shapes: [ball([0.4, 0.4, 0.4])], frames: frames(0), sight: null });
    expect(far).toMatchObject({ near: null, clearance: { cutShare: 0 } });
  });

  test('no edge of form or body is longer than what is allowed for', () => {
    for (const s of [wearer.form, makeForm(formBase(), 'L'), drawnBody(shapeBody(bodyBase(), 'L'))]) {
      let most = 0;
      for (let t = 0; t < s.indices.length; t++) {
        const [a, b] = [s.indices[t] * 3, s.indices[t % 3 === 2 ? t - 2 : t + 1] * 3];
        most = Math.max(most, Math.hypot(...[0, 1, 2].map((k) => s.positions[a + k] - s.positions[b + k])));
      }
      expect(most).toBeLessThan(0.08);
    }
  });

  test('on a body that stands as it rests, what lies on its chest is measured against that', () => {
    const body = drawnBody(shapeBody(bodyBase(), 'M'));
    const rest = restOfSize('M');
    const whole = { form: wearer.form, body };
    const unmoved = Array.from({ length: 52 }, () =>
      new Matrix4().makeTranslation(...(rest.headOffsetM.map((x) => -x) as [number, number, number])).toArray(),
    );
    const still = { ...frames(0), head: new Matrix4().toArray(), body: unmoved };
    const [x, y, z] = body.landmarks.suprasternale.position;
    const at: [number, number, number] = [x - rest.headOffsetM[0], y - rest.headOffsetM[1], z - rest.headOffsetM[2]];
    const measured = new CastMeasure().measure('M', whole, { shapes: [ball(at)], frames: still, sight: null });
    expect(measured?.clearance.deepestMm).toBeGreaterThan(9);
    expect(measured?.clearance.deepestMm).toBeLessThan(13);
  });
});
