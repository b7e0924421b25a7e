/** Motion clips: what moves, how far, and whether it comes round. */
import { Vector3 } from 'three';
import type { Model, ModelClip } from '../../model/model';
import { type LocalPose, nodeMatrices, poseAt } from '../../model/pose';
import type { Finding } from '../findings';
import type { MotionFacts } from './facts';

/** The usual time between keys, as frames a second; 0 where a clip has no two keys. */
export function clipRate(clip: ModelClip): number {
  const longest = clip.channels.reduce<Float32Array>((m, c) => (c.times.length > m.length ? c.times : m), new Float32Array());
  if (longest.length < 2) return 0;
  const steps = Float64Array.from({ length: longest.length - 1 }, (_, i) => longest[i + 1] - longest[i]).sort();
  const step = steps[steps.length >> 1];
  return step > 0 ? Math.round((1 / step) * 100) / 100 : 0;
}

/** The pose at a time, without coming round at the end as `poseAt` does. */
const heldPose = (model: Model, clip: number, timeS: number): LocalPose =>
  poseAt(model, clip, Math.min(timeS, Math.max(0, model.clips[clip].seconds - 1e-6)));

function turnBetween(a: LocalPose, b: LocalPose, node: number): number {
  const o = node * 10 + 3;
  const dot = Math.abs(a.trs[o] * b.trs[o] + a.trs[o + 1] * b.trs[o + 1] + a.trs[o + 2] * b.trs[o + 2] + a.trs[o + 3] * b.trs[o + 3]);
  return (2 * Math.acos(Math.min(1, dot)) * 180) / Math.PI;
}

/** Nodes that belong to the figure: moved by a clip, and what hangs on or above them. */
function jointsOf(model: Model): number[] {
  const moved = new Set(model.clips.flatMap((c) => c.channels.map((ch) => ch.node)));
  const keep = new Set<number>();
  for (const n of moved) for (let at = n; at >= 0 && !keep.has(at); at = model.nodes[at].parent) keep.add(at);
  // tips of chains are seen on the figure too
  model.nodes.forEach((n, i) => {
    if (n.parent >= 0 && moved.has(n.parent)) keep.add(i);
  });
  // a holder that converters put over everything is no joint
  const kept = (n: number) => model.nodes[n].children.filter((c) => keep.has(c));
  for (const n of [...keep].sort((a, b) => a - b)) {
    const { parent, translation } = model.nodes[n];
    if (!keep.has(parent) && !moved.has(n) && kept(n).length === 1 && translation.every((x) => x === 0)) keep.delete(n);
  }
  return [...keep].sort((a, b) => a - b);
}

export interface StickFigure {
  /** Node numbers of the joints, and for each the place of its parent among them, or −1. */
  nodes: number[];
  parents: number[];
}

export function stickFigure(model: Model): StickFigure {
  const nodes = jointsOf(model);
  const at = new Map(nodes.map((n, i) => [n, i]));
  return { nodes, parents: nodes.map((n) => at.get(model.nodes[n].parent) ?? -1) };
}

/** World positions of the figure's joints at a time, three numbers each, metres. */
export function figureAt(model: Model, figure: StickFigure, clip: number, timeS: number): Float32Array {
  const m = nodeMatrices(model, poseAt(model, clip, timeS));
  const out = new Float32Array(figure.nodes.length * 3);
  const v = new Vector3();
  figure.nodes.forEach((n, i) => {
    v.setFromMatrixPosition(m[n]).toArray(out, i * 3);
  });
  return out;
}

const round = (x: number, digits = 1) => Math.round(x * 10 ** digits) / 10 ** digits;

export function measureMotion(model: Model): Pick<MotionFacts, 'joints' | 'heightMm' | 'clips'> {
  const figure = stickFigure(model);
  const rootJoint = (clip: ModelClip) => clip.channels.find((c) => c.path === 'translation')?.node ?? figure.nodes[0] ?? -1;
  let height = 0;
  if (model.clips.length > 0) {
    const p = figureAt(model, figure, 0, 0);
    const ys = Array.from({ length: p.length / 3 }, (_, i) => p[i * 3 + 1]);
    height = ys.length > 0 ? Math.max(...ys) - Math.min(...ys) : 0;
  }
  return {
    joints: figure.nodes.map((n, i) => ({ name: model.nodes[n].name || `joint ${i}`, parent: figure.parents[i] })).slice(0, 2000),
    heightMm: round(height * 1000),
    clips: model.clips.map((clip, i) => {
      const [a, b] = [heldPose(model, i, 0), heldPose(model, i, clip.seconds)];
      const root = rootJoint(clip);
      const place = (pose: LocalPose) =>
        new Vector3().setFromMatrixPosition(nodeMatrices(model, pose)[root] ?? nodeMatrices(model, pose)[0]);
      const way = root >= 0 ? place(b).sub(place(a)) : new Vector3();
      let [worst, joint] = [0, -1];
      for (const n of figure.nodes) {
        const d = turnBetween(a, b, n);
        if (d > worst) [worst, joint] = [d, n];
      }
      const fps = clipRate(clip);
      return {
        name: clip.name || `clip ${i}`,
        seconds: round(clip.seconds, 4),
        fps,
        frames: Math.max(1, Math.round(clip.seconds * fps) + 1),
        rootMm: round(Math.hypot(way.x, way.z) * 1000),
        loopDeg: round(worst),
        loopJoint: joint >= 0 ? model.nodes[joint].name || `joint ${joint}` : '',
      };
    }),
  };
}

/** A step between last and first frame that shows as a jerk. */
const LOOP_DEG = 8;
const WANDERS_MM = 250;

export function motionFindings(clips: MotionFacts['clips']): Finding[] {
  return clips.flatMap((c): Finding[] => {
    const out: Finding[] = [];
    if (c.rootMm > WANDERS_MM)
      out.push({
        code: 'motion/root',
        level: 'note',
        message: `It goes ${(c.rootMm / 1000).toFixed(2)} m over ground from its first frame to its last: looped, the figure jumps back.`,
        where: c.name,
      });
    if (c.loopDeg > LOOP_DEG)
      out.push({
        code: 'motion/loop-gap',
        level: 'note',
        message: `Its last frame is ${c.loopDeg.toFixed(0)}° off its first at ${c.loopJoint}: looped, it jerks.`,
        where: c.name,
      });
    if (c.frames < 2) out.push({ code: 'motion/still', level: 'warning', message: 'It has one frame: nothing moves.', where: c.name });
    return out;
  });
}
