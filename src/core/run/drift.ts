/** Drift: how far a part moves from the skin under it while a wearer moves. */
import { Matrix4, type Vector3 } from 'three';
import { type FacePlace, facePoint, facePointFrame } from '../form/facepoint';
import { poseAtTime, type Take } from '../form/take';
import { shownWearer } from '../piece/cast';
import type { Piece } from '../piece/schema';
import { settle } from './run';
import { type Assets, compile } from './show';
import { stageOf } from './stage';
import { wearerCapture } from './wearer';

export interface Drift {
  /** Furthest from where it lay on the skin at rest, and when. */
  mostMm: number;
  atS: number;
  /** Of every moment looked at. */
  mm: Float64Array;
  stepS: number;
}

const STEP_S = 1 / 30;

/**
 * How far a place of a part is from where it was over the skin at rest, as the skin has it: nought for what goes with it.
 * @param skin the place of the skin under it @param inPart that of the part, metres, in its own frame
 * @returns null: it is not there
 */
export function driftOver(piece: Piece, assets: Assets, part: string, take: Take, skin: FacePlace, inPart: Vector3): Drift | null {
  const form = assets.forms?.[shownWearer(piece).key];
  const point = form && facePoint(form, skin);
  if (!form || !point) return null;
  const show = compile(piece, assets);
  const under = new Matrix4();
  /** The part's place in the frame of the skin. */
  const seen = (capture: ReturnType<typeof wearerCapture>): Vector3 | null => {
    const state = stageOf(show, settle(show, capture), capture);
    const staged = state.parts.find((p) => p.id === part);
    const { bones } = show.seen;
    if (!staged?.found || !bones) return null;
    facePointFrame(form, point, show.seen.face, bones, under);
    return inPart.clone().applyMatrix4(new Matrix4().fromArray(staged.matrix)).applyMatrix4(under.invert());
  };
  const rest = seen(wearerCapture(piece, STILL));
  if (!rest) return null;
  const mm = new Float64Array(Math.max(2, Math.round(take.seconds / STEP_S) + 1));
  let most = 0;
  for (let i = 0; i < mm.length; i++) {
    const timeS = Math.min(i * STEP_S, take.seconds - 1e-6);
    const now = seen(wearerCapture(piece, poseAtTime(take, timeS), timeS));
    mm[i] = now ? now.distanceTo(rest) * 1000 : Number.NaN;
    if (mm[i] > mm[most]) most = i;
  }
  return { mostMm: mm[most], atS: most * STEP_S, mm, stepS: STEP_S };
}
const STILL = { head: { yawDeg: 0, pitchDeg: 0, rollDeg: 0 } };
