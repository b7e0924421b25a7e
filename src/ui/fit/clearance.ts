/** What a part's clearance is asked of: the part as it lies on a wearer of a size, held so, in the head's frame. */
import { Matrix4, Vector3 } from 'three';
import { cameraOf, isBehind } from '@/core/fit';
import { FORM_SIZES, type FormSize, type Pose } from '@/core/form';
import { offsetMatrix } from '@/core/math';
import { drawnModel, type Part, type Piece } from '@/core/piece';
import { type Assets, type Held, stageStill, wearerCapture, worldShapes } from '@/core/run';
import { placeWords } from '@/core/words/places';
import type { SizedCell, ToldCell } from '@/worker/browser';

export interface PlacedCell {
  cell: SizedCell;
  /** A way in the head's frame, as the part's offset has it. */
  inOffset: (way: Vector3) => Vector3;
}

export const cellOf = (...asked: Parameters<typeof placedCell>): SizedCell | null => placedCell(...asked)?.cell ?? null;

/** null: it is not there in that moment, or draws nothing. */
export function placedCell(piece: Piece, assets: Assets, part: Part, size: FormSize, held: Held, timeS = 0): PlacedCell | null {
  const of = size === piece.settings.form ? piece : { ...piece, settings: { ...piece.settings, form: size } };
  const state = stageStill(of, assets, wearerCapture(of, held, timeS));
  const staged = state.parts.find((p) => p.id === part.id);
  if (!staged?.found || !state.form) return null;
  const toHead = new Matrix4().fromArray(state.form.head).invert();
  const v = new Vector3();
  const shapes = worldShapes(staged, assets).map(({ positions, triangles }) => {
    const own = new Float32Array(positions.length);
    for (let i = 0; i < own.length; i += 3) v.fromArray(positions, i).applyMatrix4(toHead).toArray(own, i);
    return { positions: own, triangles };
  });
  const { head, neck, bust, body } = state.form;
  // what lies behind the wearer is hidden by a matte, not by an occluder
  const sight = isBehind(of, part)
    ? null
    : {
        eyeM: cameraOf(state.camera, 1).position.clone().applyMatrix4(toHead).toArray(),
        hides: state.parts.flatMap((p) => (p.shown && p.layer === part.layer && p.shape?.type === 'form' ? [p.shape] : [])),
      };
  if (shapes.length === 0) return null;
  // the frame that the offset is told in, seen from the head
  const back = new Matrix4().fromArray(staged.matrix).multiply(offsetMatrix(part.offset).invert()).premultiply(toHead).invert();
  const origin = new Vector3().applyMatrix4(back);
  return {
    cell: { size, shapes, frames: { head, neck, bust, body }, sight },
    inOffset: (way) => way.clone().applyMatrix4(back).sub(origin),
  };
}

/** More vertices than this are not gone through unasked: the page would be held. */
const MANY = 50_000;
export function isHeavy(piece: Piece, { models }: Assets, part: Part): boolean {
  const model = part.kind === 'model' ? models[drawnModel(piece, part.stock) ?? ''] : undefined;
  return (model?.meshes ?? []).some((m) => m.primitives.reduce((s, p) => s + p.positions.length / 3, 0) > MANY);
}

export const heldIn = (pose: Pose): Held => ({ head: pose, ...(pose.body && { body: { pose: pose.body } }) });

/** Deeper than this is a cut that is seen or felt, mm; of more than this share it is no graze. */
export const CUTS_MM = 0.5;
export const cuts = ({ clearance }: ToldCell): boolean => clearance.deepestMm > CUTS_MM && clearance.cutShare > 0;

/** “cuts in 1.8 mm at the root of the left ear”, “free by 2.3 mm”. */
export function clearanceWords({ clearance, near }: ToldCell): string {
  const { deepestMm } = clearance;
  if (deepestMm <= 0) return deepestMm < -100 ? 'nowhere near the wearer' : `free by ${(-deepestMm).toFixed(1)} mm`;
  return `cuts in ${deepestMm.toFixed(1)} mm${near ? `, ${placeWords(near)}` : ''}`;
}

/** More than this share of what is seen is a fault that is seen. */
export const LEAKS = 0.01;
export const leaks = ({ leaks: l }: ToldCell): boolean => l !== null && (l.leak > LEAKS || l.swallowed > LEAKS);
const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** “3.2 % of it is seen that a head would hide”; null: it was not asked, or nothing is wrong. */
export function leakWords({ leaks: l }: ToldCell): string | null {
  if (!l) return null;
  const said = [
    l.leak > 0 ? `${percent(l.leak)} of what is seen of it a wearer would hide` : '',
    l.swallowed > 0 ? `${percent(l.swallowed)} that should be seen is hidden` : '',
  ].filter(Boolean);
  return said.length > 0 ? said.join('; ') : null;
}

export const CAST: readonly FormSize[] = FORM_SIZES;
