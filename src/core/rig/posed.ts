/** What weights do when a whole figure is held in a pose, or moves: measured against rest as one turned bone is. */
import { Matrix3, type Matrix4, Vector3 } from 'three';
import { type LocalPose, type Model, nodeMatrices, restPose } from '../model';
import type { Held } from './held';
import { againstRest, type Posed } from './posetest';

/** From where each bone is at rest to where a pose has it, in the model's frame. */
export function carriesOf({ joints }: Held, model: Model, pose: LocalPose): Matrix4[] {
  const rest = nodeMatrices(model, restPose(model));
  const now = nodeMatrices(model, pose);
  return joints.map((j) => now[j].clone().multiply(rest[j].clone().invert()));
}

/** The surface at rest carried along with its bones; what follows none stays. Linear blend skinning. */
export function carriedBy({ surface: { positions }, binding }: Held, carries: readonly Matrix4[]): Float64Array {
  const out = Float64Array.from(positions);
  const [p, q, sum] = [new Vector3(), new Vector3(), new Vector3()];
  for (let v = 0; v * 3 < positions.length; v++) {
    p.fromArray(positions as unknown as number[], v * 3);
    sum.set(0, 0, 0);
    let whole = 0;
    for (let k = v * 4; k < v * 4 + 4; k++) {
      const share = binding.shares[k];
      if (share === 0) continue;
      whole += share;
      sum.addScaledVector(q.copy(p).applyMatrix4(carries[binding.bones[k]]), share);
    }
    if (whole > 0) sum.divideScalar(whole).toArray(out as unknown as number[], v * 3);
  }
  return out;
}

/** Stretch, volume and triangles turned over of posed places, three numbers a vertex. */
export function measurePosed({ surface, binding }: Held, carries: readonly Matrix4[], posed: Float64Array): Posed {
  const turns = carries.map((m) => new Matrix3().setFromMatrix4(m));
  const own = new Vector3();
  // as a triangle's corners are turned on the mean
  const expected = (a: number, b: number, c: number, normal: Vector3, out: Vector3) => {
    out.set(0, 0, 0);
    for (const v of [a, b, c])
      for (let k = v * 4; k < v * 4 + 4; k++)
        if (binding.shares[k] > 0) out.addScaledVector(own.copy(normal).applyMatrix3(turns[binding.bones[k]]), binding.shares[k]);
    return out.lengthSq() > 0 ? out : out.copy(normal);
  };
  return againstRest(surface, posed, expected);
}
