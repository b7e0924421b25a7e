/** The joints a wearer bends at, in the head frame of a form at rest, metres. */
export interface Skeleton {
  /** Where the neck rises from the shoulders. */
  neckBaseM: readonly [number, number, number];
  /** Where the head sits on the neck. */
  neckTopM: readonly [number, number, number];
  /** Midway between the acromia: the origin of the shoulders' frame. */
  shouldersM: readonly [number, number, number];
}
