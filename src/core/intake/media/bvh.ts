/** BVH motion captures, read into a glTF of bones and one clip. */
import { Document, type Node } from '@gltf-transform/core';
import { Euler, type EulerOrder, Quaternion } from 'three';
import { IntakeError } from '../errors';

type Channel = 'Xposition' | 'Yposition' | 'Zposition' | 'Xrotation' | 'Yrotation' | 'Zrotation';
export interface BvhJoint {
  name: string;
  /** −1 for a root. */
  parent: number;
  offset: [number, number, number];
  channels: Channel[];
  /** First of its numbers in a frame. */
  at: number;
  /** Tip of the chain: no joint of its own. */
  end: boolean;
}
export interface Bvh {
  joints: BvhJoint[];
  frames: number;
  frameS: number;
  /** All frames, one after another. */
  values: Float32Array;
  width: number;
}

const MOST_JOINTS = 2000;
const MOST_VALUES = 30e6;
const DEEPEST = 500;
const CHANNELS = /^[XYZ](position|rotation)$/;

/**
 * Reads a Biovision hierarchy. (Meredith and Maddock, Motion Capture File Formats Explained, Sheffield CS-01-11, 2001.)
 * @throws {IntakeError} with the line where it stops making sense.
 */
export function readBvh(text: string): Bvh {
  const lines = text.split(/\r\n|\n|\r/);
  let at = 0;
  const broken = (why: string) => new IntakeError('motion/unreadable', `The BVH cannot be read: ${why} (line ${at}). Export it again.`);
  const next = () => {
    while (at < lines.length && lines[at].trim() === '') at++;
    if (at >= lines.length) throw broken('it ends too early');
    return lines[at++].trim().split(/\s+/);
  };
  if (next()[0].toUpperCase() !== 'HIERARCHY') throw broken('it does not begin with HIERARCHY');
  const joints: BvhJoint[] = [];
  const open: number[] = [];
  let width = 0;
  let words = next();
  for (; words[0].toUpperCase() !== 'MOTION'; words = next()) {
    const key = words[0].toUpperCase();
    const top = joints[open.at(-1) ?? -1];
    if (key === 'ROOT' || key === 'JOINT' || (key === 'END' && words[1]?.toUpperCase() === 'SITE')) {
      if (joints.length >= MOST_JOINTS) throw broken(`it has more than ${MOST_JOINTS} joints`);
      if (open.length >= DEEPEST) throw broken(`its joints are nested more than ${DEEPEST} deep`);
      if (key !== 'ROOT' && !top) throw broken(`${words[0]} stands outside any joint`);
      const end = key === 'END';
      joints.push({
        name: end ? `${top.name} end` : words.slice(1).join(' ') || `joint ${joints.length}`,
        parent: open.at(-1) ?? -1,
        offset: [0, 0, 0],
        channels: [],
        at: width,
        end,
      });
      if (words.at(-1) !== '{' && next()[0] !== '{') throw broken('a brace is missing');
      open.push(joints.length - 1);
    } else if (key === '}') {
      if (open.pop() === undefined) throw broken('a brace closes nothing');
    } else if (key === 'OFFSET' && top) {
      top.offset = [1, 2, 3].map((i) => Number(words[i])) as [number, number, number];
      if (!top.offset.every(Number.isFinite)) throw broken('an offset is no number');
    } else if (key === 'CHANNELS' && top) {
      const names = words.slice(2);
      if (Number(words[1]) !== names.length || names.length > 6 || !names.every((n) => CHANNELS.test(n)))
        throw broken('channels that are not known');
      top.channels = names as Channel[];
      top.at = width;
      width += names.length;
    } else throw broken(`“${words.join(' ').slice(0, 40)}” is not understood`);
  }
  if (open.length > 0) throw broken('a brace is not closed');
  if (joints.length === 0) throw broken('it has no joints');
  words = next();
  const count = /^frames:$/i.test(words[0]) ? Number(words[1]) : Number.NaN;
  words = next();
  const frameS = /^frame$/i.test(words[0]) && /^time:$/i.test(words[1] ?? '') ? Number(words[2]) : Number.NaN;
  if (!Number.isInteger(count) || count < 0) throw broken('the number of frames is missing');
  if (!(frameS > 0 && frameS < 60)) throw broken('the frame time is missing');
  if (count * Math.max(1, width) > MOST_VALUES)
    throw broken(`it speaks of ${count} frames of ${width} values; up to ${MOST_VALUES} values are read`);
  // the header may lie: no more is held than lines that are there
  const values = new Float32Array(Math.min(count, lines.length - at) * width);
  let filled = 0;
  for (; at < lines.length && filled < values.length; at++) {
    for (const word of lines[at].trim().split(/\s+/)) {
      if (word === '' || filled >= values.length) continue;
      const x = Number(word);
      if (!Number.isFinite(x)) {
        at++;
        throw broken(`“${word.slice(0, 20)}” is no number`);
      }
      values[filled++] = x;
    }
  }
  const frames = width > 0 ? Math.floor(filled / width) : 0;
  return { joints, frames, frameS, values: values.subarray(0, frames * width), width };
}

/** Units a BVH may be in, metres each; it records none. */
const UNITS: readonly [number, string][] = [
  [1, 'metres'],
  [0.01, 'centimetres'],
  [0.0254, 'inches'],
  [0.001, 'millimetres'],
  // the unit of a much used library of captures: 1/0.45 inch
  [0.0254 / 0.45, 'units of 56 mm'],
];
const FIGURE_M = 1.7;

/** Height of the rest pose, in the file's units. */
export function restHeight(bvh: Bvh): number {
  const y: number[] = [];
  for (const j of bvh.joints) y.push((j.parent < 0 ? 0 : y[j.parent]) + j.offset[1]);
  return y.reduce((m, v) => Math.max(m, v), Number.NEGATIVE_INFINITY) - y.reduce((m, v) => Math.min(m, v), Number.POSITIVE_INFINITY);
}

/** The unit in which the figure comes nearest to a person's height. */
export function guessBvhUnit(heightUnits: number): { factor: number; word: string } {
  if (!(heightUnits > 0)) return { factor: 1, word: 'metres' };
  const off = ([f]: readonly [number, string]) => Math.abs(Math.log((heightUnits * f) / FIGURE_M));
  const [factor, word] = [...UNITS].sort((a, b) => off(a) - off(b))[0];
  return { factor, word };
}

/** Bones as nodes and the capture as one clip, metres. Rotation order is that of each joint's channels. */
export function bvhDocument(bvh: Bvh, name: string, factor: number): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene(name);
  document.getRoot().setDefaultScene(scene);
  const clip = document.createAnimation(name);
  const input = document
    .createAccessor()
    .setType('SCALAR')
    .setArray(Float32Array.from({ length: Math.max(1, bvh.frames) }, (_, i) => i * bvh.frameS))
    .setBuffer(buffer);
  const nodes: Node[] = [];
  const q = new Quaternion();
  const euler = new Euler();
  for (const j of bvh.joints) {
    const node = document.createNode(j.name).setTranslation(j.offset.map((x) => x * factor) as [number, number, number]);
    nodes.push(node);
    if (j.parent < 0) scene.addChild(node);
    else nodes[j.parent].addChild(node);
    if (bvh.frames === 0) continue;
    const turns = j.channels.flatMap((c, i) => (c.endsWith('rotation') ? [{ axis: c[0] as 'X' | 'Y' | 'Z', at: j.at + i }] : []));
    const moves = j.channels.flatMap((c, i) => (c.endsWith('position') ? [{ axis: 'XYZ'.indexOf(c[0]), at: j.at + i }] : []));
    const track = (path: 'rotation' | 'translation', array: Float32Array<ArrayBuffer>) => {
      const output = document
        .createAccessor()
        .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
        .setArray(array)
        .setBuffer(buffer);
      const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
      clip.addSampler(sampler).addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
    };
    if (turns.length > 0) {
      const out = new Float32Array(bvh.frames * 4);
      // three axes each once are an Euler order; anything else is turned one by one
      const order = turns.map((t) => t.axis).join('');
      for (let f = 0; f < bvh.frames; f++) {
        const angle = (k: number) => (bvh.values[f * bvh.width + turns[k].at] * Math.PI) / 180;
        if (/^(XYZ|XZY|YXZ|YZX|ZXY|ZYX)$/.test(order)) {
          const v = { X: 0, Y: 0, Z: 0 };
          turns.forEach((t, k) => {
            v[t.axis] = angle(k);
          });
          q.setFromEuler(euler.set(v.X, v.Y, v.Z, order as EulerOrder));
        } else {
          q.identity();
          turns.forEach((t, k) => {
            const half = angle(k) / 2;
            q.multiply(
              new Quaternion(
                t.axis === 'X' ? Math.sin(half) : 0,
                t.axis === 'Y' ? Math.sin(half) : 0,
                t.axis === 'Z' ? Math.sin(half) : 0,
                Math.cos(half),
              ),
            );
          });
        }
        q.toArray(out, f * 4);
      }
      track('rotation', out);
    }
    if (moves.length > 0) {
      const out = new Float32Array(bvh.frames * 3);
      for (let f = 0; f < bvh.frames; f++) {
        // a root's channels are its place; a joint's replace its offset
        for (let k = 0; k < 3; k++) out[f * 3 + k] = j.parent < 0 ? 0 : j.offset[k] * factor;
        for (const m of moves)
          out[f * 3 + m.axis] = bvh.values[f * bvh.width + m.at] * factor + (j.parent < 0 ? j.offset[m.axis] * factor : 0);
      }
      track('translation', out);
    }
  }
  return document;
}
