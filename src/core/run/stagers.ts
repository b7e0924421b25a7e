/** What each kind of part puts on stage. */

import { bareUnder } from '../fit/wornareas';
import type { ByPartKind, PartKind, PartOf } from '../parts/index';
import type { BodyArea } from '../words/humanoid';
import { flatPatch } from './patch';
import { poseOf, type Show, type ShowNode } from './show';
import type { DrawShape } from './state';

export interface Staged {
  shape: DrawShape | null;
  opacity: number;
  solid: boolean;
  occludes: boolean;
  /** Whether there is anything to draw. */
  drawn: boolean;
}

const plain = (shape: DrawShape | null): Staged => ({ shape, opacity: 1, solid: false, occludes: false, drawn: shape !== null });

const NOTHING: readonly number[] = [];

/** Of the body, what garments of a layer lie over: an occluder would cut into them. */
function bareIn(nodes: readonly ShowNode[], layer: string): { without: BodyArea[]; bare: string[] } {
  const worn = nodes.flatMap(({ part, visible, model }) =>
    visible && model && 'worn' in part && part.worn && part.layer === layer ? [part.worn] : [],
  );
  return { without: [...new Set(worn.flatMap(bareUnder))], bare: worn.flatMap((w) => w.bare ?? []) };
}

type Stager<K extends PartKind> = (part: PartOf<K>, node: ShowNode, timeS: number, show: Show) => Staged;
export const STAGERS: { readonly [K in PartKind]: Stager<K> } & ByPartKind<unknown> = {
  model: (part, node, timeS, { seen }) => {
    const { sha, model, worn } = node;
    const without = worn?.without ?? NOTHING;
    return {
      shape: sha ? { type: 'glb', model: sha, pose: poseOf(node, seen, timeS), without } : null,
      opacity: part.opacity,
      solid: part.solid,
      occludes: part.occludes,
      drawn: model !== null && part.opacity > 0,
    };
  },
  solid: (part) => ({ ...plain({ type: 'solid', solid: part.shape }), occludes: part.occludes }),
  group: () => plain(null),
  occluder: ({ region, growMm, widenMm, softMm, layer }, _node, _timeS, { nodes }) => ({
    ...plain({ type: 'form', region, growMm, widenMm, softMm, ...bareIn(nodes, layer) }),
    occludes: true,
  }),
  face: ({ covers, holes, colour, growMm, opacity, sculpt }, { sha, model }, _timeS, { assets }) => ({
    ...plain({
      type: 'face',
      covers,
      holes,
      model: model ? sha : null,
      colour,
      sculpt: (sculpt !== null && assets.sculpts?.[sculpt]) || null,
      growMm,
    }),
    opacity,
    drawn: opacity > 0 && (colour !== null || model !== null),
  }),
  patch: ({ region, feather }, { patch }) => plain({ type: 'patch', region, feather, mesh: patch ?? flatPatch(region) }),
  screen: (part, { sha, model, sky }) => ({
    shape: sky
      ? { type: 'sky', file: sky, turnRad: (part.turnDeg * Math.PI) / 180, exposureEv: part.exposureEv }
      : { type: 'quad', model: model ? sha : null, colour: part.colour, fit: part.fit },
    opacity: part.opacity,
    solid: false,
    occludes: false,
    drawn: part.opacity > 0 && (sky !== null || part.colour !== null || model !== null),
  }),
};

export const stageNode = (node: ShowNode, timeS: number, show: Show): Staged =>
  (STAGERS[node.part.kind] as Stager<PartKind>)(node.part as never, node, timeS, show);
