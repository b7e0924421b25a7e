/** Geometry the solver chooses from: one model simplified to an error, packed with so many bits. */
import { type Document, Logger } from '@gltf-transform/core';
import { cloneDocument } from '@gltf-transform/functions';
import type { QuantiseSettings, StepDraft } from '../../piece/recipe';
import { measureShape, type Reference } from '../measure/error';
import { readShape, type Shape } from '../measure/shape';
import { type DracoModules, type Packing, packDocument, USUAL_BITS, unpackDocument } from '../pack';
import { putPicture } from '../pictures';
import { runSimplify } from '../simplify';
import { weighDocument } from '../weigh';

export interface GeometryOption {
  /** Quadric error it was simplified to, mm; 0: as it came. */
  errorMm: number;
  quantise: QuantiseSettings | null;
  method: Packing['method'];
  /** Of the file without its pictures. */
  bytes: number;
  triangles: number;
  drawCalls: number;
  deviceBytes: number;
  /** As a viewer unpacks it. */
  shape: Shape;
  meanMm: number;
  maxMm: number;
  normalDeg: number;
  /** Its distances are from a first look. */
  quick: boolean;
}

export const simplifyStep = (errorMm: number): Extract<StepDraft, { step: 'simplify' }> => ({
  step: 'simplify',
  settings: { ratio: null, errorMm, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] },
});

/** Simplified documents that are held. */
const KEPT = 5;

/** The head of a PNG of one pixel: enough to tell its size, and nothing decodes it here. */
const STAND_IN = Uint8Array.from([137, 80, 78, 71, 13, 10, 26, 10, 0, 0, 0, 13, 73, 72, 68, 82, 0, 0, 0, 1, 0, 0, 0, 1, 8, 6, 0, 0]);

/** The document without the bytes of its pictures. */
function withoutPictures(source: Document): Document {
  const document = cloneDocument(source).setLogger(new Logger(Logger.Verbosity.SILENT));
  for (const t of document.getRoot().listTextures()) t.setImage(STAND_IN).setMimeType('image/png');
  return document;
}

/** The way of packing in which the document takes fewest bytes, as it stands. @param methods one at least */
export async function lightestMethod(source: Document, methods: readonly Packing['method'][], draco: DracoModules | null) {
  if (methods.length === 1) return methods[0];
  const bare = withoutPictures(source);
  const sizes = new Map<Packing['method'], number>();
  for (const method of methods)
    sizes.set(method, (await packDocument(bare, { method, quantise: USUAL_BITS, reorder: method !== 'none' }, draco)).byteLength);
  return [...methods].sort((a, b) => (sizes.get(a) ?? 0) - (sizes.get(b) ?? 0))[0];
}

/** Simplified shapes by their error: several bit counts are tried on one. */
export class GeometrySource {
  private readonly simplified = new Map<number, Document>();
  private readonly bare: Document;
  constructor(
    source: Document,
    private readonly ref: Reference,
    private readonly draco: DracoModules | null,
    private readonly method: Packing['method'],
  ) {
    this.bare = withoutPictures(source);
  }

  private async at(errorMm: number): Promise<Document> {
    const had = this.simplified.get(errorMm);
    if (had) return had;
    const document = cloneDocument(this.bare).setLogger(new Logger(Logger.Verbosity.SILENT));
    if (errorMm > 0) await runSimplify(document, simplifyStep(errorMm).settings);
    // some are kept: neighbours are asked for with other bits
    if (this.simplified.size >= KEPT) this.simplified.delete(this.simplified.keys().next().value as number);
    this.simplified.set(errorMm, document);
    return document;
  }

  /** Bytes the file grows by when its pictures change format. @param formats texture → format it gets, `keep` for none */
  async naming(formats: ReadonlyMap<number, string>): Promise<number> {
    const sizes: number[] = [];
    for (const put of [false, true]) {
      const document = cloneDocument(this.bare).setLogger(new Logger(Logger.Verbosity.SILENT));
      for (const [at, t] of document.getRoot().listTextures().entries())
        if (put && formats.get(at) === 'webp') putPicture(document, t, { bytes: STAND_IN, mime: 'image/webp' });
      sizes.push((await packDocument(document, { method: 'none', quantise: null, reorder: false }, null)).byteLength);
    }
    return sizes[1] - sizes[0];
  }

  /** Makes a first look whole. */
  lookWhole(g: GeometryOption): void {
    if (g.quick) Object.assign(g, measureShape(this.ref, g.shape), { quick: false });
  }

  /** @param step looks at every so manieth sample: over 1, for a first look */
  async option(errorMm: number, quantise: QuantiseSettings | null, step = 1, method = this.method): Promise<GeometryOption> {
    const document = await this.at(errorMm);
    const packed = await packDocument(document, { method, quantise, reorder: method !== 'none' }, this.draco);
    const seen = await unpackDocument(packed, this.draco);
    const shape = readShape(seen);
    const w = weighDocument(seen, packed.byteLength);
    const { meanMm, maxMm, normalDeg } = measureShape(this.ref, shape, step);
    const pictures = document.getRoot().listTextures().length * STAND_IN.byteLength;
    return {
      errorMm,
      quantise,
      method,
      bytes: packed.byteLength - pictures,
      triangles: w.triangles,
      drawCalls: w.drawCalls,
      deviceBytes: w.deviceBytes,
      shape,
      meanMm,
      maxMm,
      normalDeg,
      quick: step > 1,
    };
  }
}
