/** What the platform can do with pictures: supplied by worker and browser, asked for by the steps that write pictures. */
import type { PictureReader } from '../intake/check/pictures';
import type { Pixels } from '../math/pixels';
import type { PictureEncoding } from '../piece/recipe';

export interface PictureBytes {
  bytes: Uint8Array;
  mime: string;
}
export interface EncodeAsk extends PictureEncoding {
  /** Numbers, not colours: no channel may be thinned out. */
  numbers: boolean;
  /** Directions: what thins channels out must do so with care, whatever time it takes. */
  directions: boolean;
  /** Alpha is read by a material and must stay. */
  alpha: boolean;
}
export interface PictureEncoder {
  /** Scaled down so that the longer edge is at most `maxEdge`, and encoded. Rejects what it cannot read. */
  encode: (bytes: Uint8Array, ask: EncodeAsk) => Promise<PictureBytes>;
  decode: (bytes: Uint8Array) => Promise<Pixels>;
}

/** A picture put into a larger one, with its outermost pixels carried `gutter` px beyond its rim. Pixels from the upper left. */
export interface AtlasPart {
  bytes: Uint8Array;
  x: number;
  y: number;
  width: number;
  height: number;
  gutter: number;
}

/** What the platform can do with pictures. Every one rejects what it cannot read. */
export interface PictureTools extends PictureEncoder {
  read: PictureReader;
  sha256: (bytes: Uint8Array) => string;
  /** Smaller, so that the longer edge is `edge`; the format stays. */
  resize: (bytes: Uint8Array, edge: number) => Promise<PictureBytes>;
  dropAlpha: (bytes: Uint8Array) => Promise<PictureBytes>;
  /** Red from the first, green and blue from the second, at the size of the larger. */
  packRed: (red: Uint8Array, rest: Uint8Array) => Promise<PictureBytes>;
  /** Pictures as parts of one of this size, losslessly; what none covers is black. */
  atlas: (width: number, height: number, parts: readonly AtlasPart[]) => Promise<PictureBytes>;
}
