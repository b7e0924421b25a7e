/** Bytes that a place of delivery takes: 1, 5 and 10 MB are usual ceilings (*common practice*). Apart, for pages that need nothing else. */
export const CEILING_BYTES = { light: 1_000_000, pocket: 5_000_000, wide: 10_000_000 } as const;
