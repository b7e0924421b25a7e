/** What each kind of part puts on stage. */
import { poseAt } from '../model/pose';
import type { ByPartKind, PartKind, PartOf } from '../parts/index';
import type { ShowNode } from './show';
import type { DrawShape } from './state';

export interface Staged {
  shape: DrawShape | null;
  opacity: number;
  solid: boolean;
  /** Whether there is anything to draw. */
  drawn: boolean;
}

const plain = (shape: DrawShape | null): Staged => ({ shape, opacity: 1, solid: false, drawn: shape !== null });

type Stager<K extends PartKind> = (part: PartOf<K>, node: ShowNode, timeS: number) => Staged;
export const STAGERS: { readonly [K in PartKind]: Stager<K> } & ByPartKind<unknown> = {
  model: (part, { sha, model, clip }, timeS) => {
    const at = part.motion ? part.motion.fromS + timeS * part.motion.speed : timeS;
    const pose = model ? poseAt(model, clip, at) : null;
    return {
      shape: sha ? { type: 'glb', model: sha, pose } : null,
      opacity: part.opacity,
      solid: part.solid,
      drawn: model !== null && part.opacity > 0,
    };
  },
  solid: (part) => plain({ type: 'solid', solid: part.shape }),
  group: () => plain(null),
  occluder: (part) => plain({ type: 'form', region: part.region, growMm: part.growMm, widenMm: part.widenMm }),
  screen: (part, { sha, model, sky }) => ({
    shape: sky
      ? { type: 'sky', file: sky, turnRad: (part.turnDeg * Math.PI) / 180, exposureEv: part.exposureEv }
      : { type: 'quad', model: model ? sha : null, colour: part.colour, fit: part.fit },
    opacity: part.opacity,
    solid: false,
    drawn: part.opacity > 0 && (sky !== null || part.colour !== null || model !== null),
  }),
};

export const stageNode = (node: ShowNode, timeS: number): Staged =>
  (STAGERS[node.part.kind] as Stager<PartKind>)(node.part as never, node, timeS);
