/** Limits that are checked before anything is allocated for a file. */
export const INTAKE_LIMITS = {
  fileBytes: 500e6,
  jsonBytes: 100e6,
  nodes: 100_000,
  nodeDepth: 1_000,
  accessors: 200_000,
  /** Elements of all accessors together. */
  elements: 100e6,
  /** Pixels of one picture: 16384 × 16384. */
  pixels: 268_435_456,
  archiveEntries: 2_000,
  archiveBytes: 1e9,
  /** Unpacked over packed, from 1 MB unpacked on. */
  archiveRatio: 200,
} as const;
