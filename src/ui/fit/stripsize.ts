/** Its place is kept before it is there: the Mirror above it does not change its size. */
export const STRIP_PX = 124;
