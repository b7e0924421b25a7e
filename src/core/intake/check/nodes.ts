/** Where the model lies and what its nodes do to it. */
import type { Matrix4 } from 'three';
import { lengthWords } from '../../model/lie/units';
import { nodeMatrices, restPose, sceneNodes } from '../../model/pose';
import { stillMeshNodes } from '../../model/still';
import { NO_TRANSFORM } from '../../piece/recipe';
import type { ModelFormat } from '../facts';
import type { Finding } from '../findings';
import { type CheckContext, count, finding, placedPrimitives, some } from './context';

const APPLY: NonNullable<Finding['fix']> = {
  step: 'transform',
  settings: { ...NO_TRANSFORM, apply: true },
  changes: ['Turns and sizes of nodes are worked into the shapes; what moves or is skinned keeps its own.'],
};

const near = (a: number, b: number, slack = 1e-4) => Math.abs(a - b) <= slack;

/** Formats that keep every shape with a matrix beside it: nobody there could work it in. */
const WITH_MATRICES: ReadonlySet<ModelFormat> = new Set(['3ds']);

export function checkNodes({ document, model, format }: CheckContext, box: readonly number[]): Finding[] {
  const out: Finding[] = [];
  const world = nodeMatrices(model, restPose(model));
  const drawn = sceneNodes(model).filter((n) => model.nodes[n].mesh >= 0 && model.nodes[n].skin < 0);
  const name = (n: number) => model.nodes[n].name || `node ${n}`;
  const still = new Set(stillMeshNodes(model));
  const mirrored = drawn.filter((n) => world[n].determinant() < 0);
  const lengths = (m: Matrix4) => [0, 4, 8].map((k) => Math.hypot(m.elements[k], m.elements[k + 1], m.elements[k + 2]));
  const uneven = drawn.filter((n) => {
    const [x, y, z] = lengths(world[n]);
    return !mirrored.includes(n) && !(near(y / x, 1, 1e-3) && near(z / x, 1, 1e-3));
  });
  // places in whole numbers are sized by their node (KHR_mesh_quantization)
  const whole = new Set(
    placedPrimitives(document).flatMap((list, m) =>
      list.some((p) => !(p.getAttribute('POSITION')?.getArray() instanceof Float32Array)) ? [m] : [],
    ),
  );
  const rest = drawn.filter((n) => {
    const e = world[n].elements;
    const turned = [0, 1, 2].some((c) => [0, 1, 2].some((r) => !near(e[c * 4 + r], c === r ? 1 : 0, 1e-4)));
    return still.has(n) && turned && !whole.has(model.nodes[n].mesh) && !mirrored.includes(n) && !uneven.includes(n);
  });
  const fixable = (list: number[]) => (list.some((n) => still.has(n)) ? APPLY : undefined);
  if (mirrored.length)
    out.push(
      finding(
        'placing/mirrored',
        'warning',
        `${count(mirrored.length, 'node mirrors its', 'nodes mirror their')} shapes by a negative size. Some viewers draw them inside out.`,
        some(mirrored.map(name)),
        fixable(mirrored),
      ),
    );
  if (uneven.length)
    out.push(
      finding(
        'placing/uneven-scale',
        'note',
        `${count(uneven.length, 'node stretches its', 'nodes stretch their')} shapes unevenly: turning them later would shear them.`,
        some(uneven.map(name)),
        fixable(uneven),
      ),
    );
  if (rest.length && !WITH_MATRICES.has(format))
    out.push(
      finding(
        'placing/unapplied',
        'note',
        `${count(rest.length, 'node carries', 'nodes carry')} a turn or a size that is not worked into its shape.`,
        some(rest.map(name)),
        fixable(rest),
      ),
    );
  const size = Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  if (size > 0) {
    const middle = [0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2);
    const away = Math.hypot(...[0, 1, 2].map((k) => Math.max(box[k], -box[k + 3], 0)));
    const fix: NonNullable<Finding['fix']> = {
      step: 'transform',
      settings: { ...NO_TRANSFORM, shiftM: middle.map((x) => -x + 0) as [number, number, number] },
      changes: [`Moved by ${lengthWords(Math.hypot(...middle) * 1000)}, so that its origin is in its middle.`],
    };
    if (away > 5 * size)
      out.push(
        finding(
          'placing/far',
          'warning',
          `It lies ${lengthWords(away * 1000)} from its origin, ${Math.round(away / size)} times its own size.`,
          undefined,
          fix,
        ),
      );
    else if (away > 0.05 * size)
      out.push(
        finding(
          'placing/pivot',
          'note',
          `Its origin is ${lengthWords(away * 1000)} outside it: it swings instead of turning on the spot.`,
          undefined,
          fix,
        ),
      );
  }
  return out;
}
