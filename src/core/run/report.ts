/** A run told in lines: what `./scaphos run` prints, one line a time. */
import { Matrix4 } from 'three';
import * as z from 'zod';
import type { CaptureFrame } from '../capture';
import { nodeMatrices } from '../model/pose';
import { withSums } from '../words/face';
import type { Show } from './show';
import type { StagePart, StageState } from './state';

const Mat4 = z.array(z.number()).length(16);

/** Matrices are column-major, world, metres. */
export const RunLine = z.strictObject({
  timeS: z.number(),
  parts: z.record(
    z.string(),
    z.strictObject({
      /** Whether anything of it is drawn; a group that is switched on and found draws nothing itself and says false. */
      shown: z.boolean(),
      matrix: Mat4,
      opacity: z.number(),
      /** World from bone, by the bone's name; null: it has none. */
      pose: z.record(z.string(), Mat4).nullable(),
    }),
  ),
  signals: z.record(z.string(), z.number()),
  states: z.record(z.string(), z.string()),
  fired: z.array(z.strictObject({ cue: z.string(), timeS: z.number() })),
});
export type RunLine = z.infer<typeof RunLine>;

/** Bones of a staged part's skins, and what its clips move, in the world. */
function bonesOf(show: Show, part: StagePart): Record<string, number[]> | null {
  const pose = part.shape?.type === 'glb' ? part.shape.pose : null;
  const model = part.shape?.type === 'glb' ? show.assets.models[part.shape.model] : undefined;
  if (!pose || !model) return null;
  const bones = new Set([...model.skins.flatMap((s) => s.joints), ...model.clips.flatMap((c) => c.channels.map((ch) => ch.node))]);
  if (bones.size === 0) return null;
  const world = new Matrix4().fromArray(part.matrix);
  const matrices = nodeMatrices(model, pose);
  const out: Record<string, number[]> = {};
  for (const b of bones) out[model.nodes[b].name || `node ${b}`] = world.clone().multiply(matrices[b]).toArray();
  return out;
}

export function runLine(show: Show, state: StageState, capture: CaptureFrame): RunLine {
  return {
    timeS: state.timeS,
    parts: Object.fromEntries(
      state.parts.map((p) => [p.id, { shown: p.shown, matrix: p.matrix, opacity: p.opacity, pose: bonesOf(show, p) }]),
    ),
    signals: { ...withSums(capture.signals ?? {}) },
    states: {},
    fired: [],
  };
}
