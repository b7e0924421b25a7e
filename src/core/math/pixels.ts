/** Decoded pixels, as every picture computation takes them. */
export interface Pixels {
  width: number;
  height: number;
  /** RGBA, 8 bits, not premultiplied, rows from the top; 4·width·height numbers. */
  data: Uint8Array;
}
