import type { Skeleton } from '../words/skeleton';

type Place = readonly [number, number, number];
/** The neck's top lies under the tragia (about where the skull rests on the atlas), its base before the seventh vertebra. *Common practice*. Metres. */
export const jointsBy = (nape: Place, gonion: Place, shoulders: Place): Skeleton => ({
  neckBaseM: [0, nape[1] - 0.012, nape[2] + 0.052],
  neckTopM: [0, gonion[1] + 0.02, gonion[2] - 0.03],
  shouldersM: [shoulders[0], shoulders[1], shoulders[2]],
});
