/** Limits that are checked before anything is allocated for a file. */
export const INTAKE_LIMITS = {
  fileBytes: 500e6,
  jsonBytes: 100e6,
  nodes: 100_000,
  nodeDepth: 1_000,
  accessors: 200_000,
  /** Elements of all accessors together. */
  elements: 100e6,
  /** Of accessors that no buffer stands behind: zeros, and what a sparse one changes. */
  unbackedElements: 20e6,
  primitives: 8_000,
  channels: 20_000,
  clips: 2_000,
  materials: 8_000,
  textures: 8_000,
  /** Shapes to blend to, of all primitives together. */
  targets: 20_000,
  /** Joints of all skins together. */
  joints: 10_000,
  /** Objects, groups and materials of an OBJ. */
  objNames: 8_000,
  faceCorners: 10_000,
  /** Unpacked over packed, of views under meshopt compression: zeros pack to a byte in a thousand. */
  meshoptRatio: 2_000,
  /** Braces, brackets and commas of a glTF's JSON. */
  jsonMarks: 2_000_000,
  /** Pixels of one picture: 16384 × 16384. */
  pixels: 268_435_456,
  archiveEntries: 2_000,
  archiveBytes: 1e9,
  /** Unpacked over packed, from 1 MB unpacked on. */
  archiveRatio: 200,
} as const;

/** Pixels that any picture may have, and beyond that for each of its bytes: nothing that was drawn is packed so densely. */
const PIXELS_ANYWAY = 67_108_864;
const PIXELS_A_BYTE = 100;
/** The most pixels that are read from a picture file of so many bytes. */
export const pixelsFor = (bytes: number): number =>
  Math.min(INTAKE_LIMITS.pixels, Math.max(PIXELS_ANYWAY, Math.floor(bytes * PIXELS_A_BYTE)));
