/**
 * The shapes the search chooses from: a ladder of quadric errors, from the model as it came to one no one would take, each rung
 * packed with several counts of bits. Where a rung could still be part of the front, the ladder is made finer.
 */
import type { Document } from '@gltf-transform/core';
import type { Transform } from '@gltf-transform/extensions';
import type { QuantiseSettings } from '../../piece/recipe';
import { errorOf, measureViews, type PictureError, type Reference, sizeOf } from '../measure/error';
import type { MipTexture } from '../measure/texture';
import type { DracoModules, Packing } from '../pack';
import { type Limits, THRESHOLDS, type VisibleError } from '../terms';
import { REFERENCE_M } from '../viewing';
import { type GeometryOption, GeometrySource } from './geometry';

/** Rungs of the ladder, as multiples: a model of few triangles is quick to measure, so its ladder is finer. */
const [FINE, COARSE] = [2 ** 0.5, 2 ** 0.75];
const SMALL = 20_000;
/** Under this many triangles packing is so quick that bits are tried as a grid about each rung. */
const TINY = 6_000;
const BITS_ABOUT = { position: [-2, -1, 0, 1], normal: [5, 6, 7, 8] } as const;
/**
 * How long is looked for a better answer. What looks best by prediction is measured, and predicted anew with what that taught: so
 * many rounds, and so many in all; so many simplifications are probed between, and rungs put in. Quick: every part of the search is
 * walked through, for who asks whether it holds together and not how good its answer is.
 */
export const EFFORTS = {
  full: { spending: 8, finer: 5, rounds: 12, most: 240, probes: 48, gaps: 14, bits: BITS_ABOUT },
  quick: { spending: 1, finer: 1, rounds: 2, most: 24, probes: 4, gaps: 2, bits: { position: [-1, 0], normal: [7] } },
} as const;
export type Effort = keyof typeof EFFORTS;
/** Step of the numbers over the error of the simplification: from grids over both on a torus and a blob. */
const STEP_SHARE = 0.45;
/** Steps tried on the model as it came, as shares of the mean that is not seen. */
const STEPS = [0.25, 0.5, 1, 2, 4];
/** Of the size: what this simplifies to only has its vertices joined, and its flat places cleared. */
const NO_ERROR = 1e-6;
const MOST_RUNGS = 40;
/** Triangles a rung may have of those of the rung below, and how many rungs are put in. */
const GAPS = { tiny: { drop: 0.9, most: 14 }, small: { drop: 0.82, most: 10 }, large: { drop: 0.68, most: 6 } } as const;
/** A first look at distances is at every so manieth sample: of what is tiny many are taken, and views tell them apart. */
const GLIMPSE = { tiny: 12, other: 4 } as const;
/** Views a first look is taken from, those in which the first simplification showed most; few at a large model or one of very many rungs. */
const FIRST_VIEWS = { few: 4, more: 8 } as const;
/** Where the ladder ends: what is better or worse than this no one chooses, unless a limit asks for it. */
const BEST_E = 0.15;
export const WORST_E = 5;
/** What other bits may at best take from what a rung shows. */
const HOPE = 0.9;

export interface LadderAsk {
  /** What is simplified; it stays as it is. */
  base: Document;
  ref: Reference;
  textures: readonly (MipTexture | null)[];
  limits: Limits;
  distanceM: number;
  draco: DracoModules | null;
  method: Packing['method'];
  /** Longest edge of a texture, px: UVs are to tell its pixels apart. */
  edge: number;
  /** What the pictures weigh at least. */
  pictureBytes: number;
  /** Left out: `full`. */
  effort?: Effort;
  /** Throws to stop. @param share 0 to 1 */
  progress: (share: number, what: string) => void;
}

/** The widest range of UVs of one primitive, in widths of the picture that is laid on it (KHR_texture_transform's scale within). */
function uvSpanOf(document: Document): number {
  let most = 0;
  for (const mesh of document.getRoot().listMeshes())
    for (const p of mesh.listPrimitives()) {
      const info = p.getMaterial()?.getBaseColorTextureInfo();
      const uv = p.getAttribute(`TEXCOORD_${info?.getTexCoord() ?? 0}`);
      if (!uv) continue;
      const scale = info?.getExtension<Transform>('KHR_texture_transform')?.getScale() ?? [1, 1];
      const [low, high] = [uv.getMinNormalized([]), uv.getMaxNormalized([])];
      for (const k of [0, 1]) if (Number.isFinite(high[k] - low[k])) most = Math.max(most, (high[k] - low[k]) * Math.abs(scale[k]));
    }
  return most;
}

/** What geometry alone does to the views. */
interface Glance {
  loss: number;
  silhouette: number;
}

export class Ladder {
  readonly small: boolean;
  readonly tiny: boolean;
  private readonly options = new Map<string, GeometryOption>();
  private readonly source: GeometrySource;
  private readonly sizeMm: number;
  /** Over how many widths of a picture UVs reach: their bits are shared out over all of it. */
  private readonly uvSpan: number;
  private readonly views = new Map<GeometryOption, PictureError>();
  /** As it is reckoned with: measured, or taken from the same shape with other bits. */
  private readonly guess = new Map<GeometryOption, Glance>();
  /** Those of which it was taken from the same shape with other bits. */
  private readonly borrowed = new Set<GeometryOption>();
  /** Numbers of the views that first looks are taken from; null: not known yet. */
  private telling: number[] | null = null;
  private readonly effort: (typeof EFFORTS)[Effort];

  constructor(private readonly ask: LadderAsk) {
    this.source = new GeometrySource(ask.base, ask.ref, ask.draco, ask.method);
    this.effort = EFFORTS[ask.effort ?? 'full'];
    this.sizeMm = sizeOf(ask.ref.shape) * 1000;
    this.uvSpan = uvSpanOf(ask.base);
    const triangles = ask.ref.shape.triangles.length / 3;
    this.small = triangles < SMALL;
    this.tiny = triangles < TINY && ask.textures.length === 0;
  }

  /** Makes all of it. */
  async build(): Promise<void> {
    await this.climb();
    if (this.tiny) for (const g of [...this.options.values()]) await this.tryBits(g);
    await this.fillGaps();
    // a small model is quick to measure: its whole front is looked at closely
    if (this.small) for (const g of [...this.options.values()]) await this.tryBits(g);
  }

  /** The model as it came, packed. */
  first(): Promise<GeometryOption> {
    return this.option(0);
  }

  /** Shapes whose views are known or guessed. */
  *known(): Iterable<GeometryOption> {
    for (const g of this.options.values()) if (this.guess.has(g)) yield g;
  }

  /** Bytes the file grows by when its pictures change format. @param formats texture → format it gets, `keep` for none */
  naming(formats: ReadonlyMap<number, string>): Promise<number> {
    return this.source.naming(formats);
  }

  /** Views that were looked at, all of them, as the shape alone changes them. */
  viewsOf(g: GeometryOption): PictureError | undefined {
    return this.views.get(g);
  }

  /** What its views came to, or at least that. */
  learn(g: GeometryOption, v: Pick<PictureError, 'ssimWorst' | 'silhouette'>): void {
    this.borrowed.delete(g);
    this.guess.set(g, { loss: 1 - v.ssimWorst, silhouette: v.silhouette });
  }

  /** Makes a first look at its distances whole. */
  lookWhole(g: GeometryOption): void {
    this.source.lookWhole(g);
  }

  allows(g: GeometryOption): boolean {
    const { triangles } = this.ask.limits;
    return triangles === null || g.triangles <= triangles;
  }

  /** Loss of similarity by geometry alone; 0 for what its distances rule out anyway. */
  viewLoss(g: GeometryOption): number {
    const had = this.guess.get(g);
    if (had) return had.loss;
    if (this.shapeError(g) > WORST_E * 2) {
      this.guess.set(g, { loss: 0, silhouette: 0 });
      return 0;
    }
    const v = measureViews(this.ask.ref, g.shape, this.ask.textures, this.telling ?? undefined);
    if (!this.telling) this.views.set(g, v);
    // as it came it shows nothing anywhere
    const many = this.small && !this.tiny;
    if (!this.telling && g.errorMm > 0) this.telling = v.byLoss.slice(0, many ? FIRST_VIEWS.more : FIRST_VIEWS.few);
    this.learn(g, v);
    return 1 - v.ssimWorst;
  }

  /** The same, looked at by itself where it was taken from other bits so far. */
  ownViewLoss(g: GeometryOption): number {
    if (this.borrowed.delete(g)) this.guess.delete(g);
    return this.viewLoss(g);
  }

  private borrow(g: GeometryOption, from: Glance): void {
    this.guess.set(g, from);
    this.borrowed.add(g);
  }

  /** A shape under pictures that lose so much of the similarity. */
  predicted(g: GeometryOption, pictureLoss = 0): VisibleError {
    const { meanMm, maxMm, normalDeg } = g;
    const loss = this.viewLoss(g) + pictureLoss;
    return { meanMm, maxMm, normalDeg, silhouette: this.guess.get(g)?.silhouette ?? 0, ssimWorst: 1 - loss, worstView: '' };
  }

  /** E of a shape under pictures that lose so much of the similarity. */
  predictedE(g: GeometryOption, pictureLoss = 0): number {
    return errorOf(this.predicted(g, pictureLoss), this.ask.distanceM);
  }

  /** Rungs on either side of one, a half way to the next: they are made. */
  async addBeside(g: GeometryOption): Promise<void> {
    if (g.errorMm === 0) return;
    const rungs = [...new Set([...this.options.values()].map((o) => o.errorMm))].sort((a, b) => a - b);
    const k = rungs.indexOf(g.errorMm);
    for (const x of [rungs[k - 1], rungs[k + 1]]) if (x > 0) this.predictedE(await this.option(Math.sqrt(x * g.errorMm)));
  }

  /** The shape itself and the two next finer ones with fewer or more bits: with fewer they may come within a limit. */
  async addBitsAbout(g: GeometryOption, most: number): Promise<void> {
    const rungs = new Map<number, GeometryOption>();
    for (const o of this.options.values()) if (o.errorMm < g.errorMm && o.errorMm > 0 && !rungs.has(o.errorMm)) rungs.set(o.errorMm, o);
    const finer = [...rungs.values()].sort((a, b) => b.errorMm - a.errorMm).slice(0, 2);
    for (const x of [g, ...finer]) await this.tryBits(x, most);
  }

  /** The same shape with finer numbers, each kind by itself and all together: what a limit leaves may go there. */
  async addFiner(g: GeometryOption): Promise<void> {
    const q = g.quantise;
    if (!q) return;
    const by = (position: number, normal: number, uv: number): QuantiseSettings => ({
      positionBits: Math.min(16, q.positionBits + position),
      normalBits: Math.min(12, q.normalBits + normal),
      uvBits: Math.min(16, q.uvBits + (this.ask.textures.length > 0 ? uv : 0)),
    });
    const list = [by(2, 2, 2), by(1, 0, 0), by(0, 1, 0), by(0, 0, 1), by(2, 1, 0)];
    for (const finer of list.slice(0, this.effort.finer)) {
      const other = await this.option(g.errorMm, finer);
      // looked at by itself: what coarser numbers showed is not what these show
      if (!this.guess.has(other)) this.viewLoss(other);
    }
  }

  /** The same shape and bits, packed in another way. */
  async packedAs(g: GeometryOption, method: Packing['method']): Promise<GeometryOption> {
    const made = await this.source.option(g.errorMm, g.quantise, 1, method);
    const near = this.guess.get(g);
    if (near) this.guess.set(made, near);
    return made;
  }

  /** A shape between the rungs; what its views lose is not asked. */
  glance(errorMm: number, quantise: QuantiseSettings | null): Promise<GeometryOption> {
    return this.option(errorMm, quantise, true);
  }

  private async option(errorMm: number, quantise = this.bitsFor(errorMm), quick = false): Promise<GeometryOption> {
    const key = `${errorMm} ${JSON.stringify(quantise)}`;
    const had = this.options.get(key);
    if (had) return had;
    const made = await this.source.option(errorMm, quantise, quick ? (this.tiny ? GLIMPSE.tiny : GLIMPSE.other) : 1);
    this.options.set(key, made);
    return made;
  }

  /** Bits whose steps are about half the error of the simplification: what they lose is cheaper than triangles. */
  private bitsFor(errorMm: number): QuantiseSettings | null {
    if (this.ask.method === 'none') return null;
    const stepMm = Math.max(errorMm * STEP_SHARE, this.sizeMm / 2 ** 14);
    return this.bits(stepMm, errorMm * 1000 > this.sizeMm ? 7 : 8);
  }

  private bits(stepMm: number, normalBits: number): QuantiseSettings {
    const texels = Math.max(256, this.ask.edge) * Math.max(1, this.uvSpan);
    const positionBits = Math.min(14, Math.max(7, Math.ceil(Math.log2(this.sizeMm / stepMm))));
    return { positionBits, normalBits, uvBits: Math.min(16, Math.ceil(Math.log2(texels)) + 2) };
  }

  /** E of distances and of what is given of the views. */
  private shapeError(g: GeometryOption, silhouette = 0, loss = 0): number {
    const { meanMm, maxMm, normalDeg } = g;
    return errorOf({ meanMm, maxMm, normalDeg, silhouette, ssimWorst: 1 - loss, worstView: '' }, this.ask.distanceM);
  }

  /** From the model as it came to one no one would take. */
  private async climb(): Promise<void> {
    const { limits, distanceM, method, ref, pictureBytes, progress } = this.ask;
    const first = await this.first();
    this.viewLoss(first);
    if (ref.shape.triangles.length === 0 || this.sizeMm === 0) return;
    const unseenMm = (THRESHOLDS.meanMm * distanceM) / REFERENCE_M;
    if (method !== 'none' && this.allows(first))
      for (const errorMm of this.tiny ? [0, this.sizeMm * NO_ERROR] : [0])
        for (const share of STEPS) {
          const g = await this.option(errorMm, this.bits(unseenMm * share, 8));
          const near = this.guess.get(first);
          if (near && !this.guess.has(g)) this.borrow(g, near);
        }
    const rung = this.small ? FINE : COARSE;
    const start = Math.min(unseenMm, this.sizeMm / 200);
    const go = async (from: number, factor: number, stop: (g: GeometryOption, e: number) => boolean) => {
      for (let k = 0, mm = from; k < MOST_RUNGS; k++) {
        const g = await this.option(mm);
        progress(0.35 + Math.min(0.2, this.options.size * 0.01), `simplified to ${g.triangles} triangles`);
        if (stop(g, this.predictedE(g))) return;
        // where nothing has changed yet the rungs may lie wider
        mm *= factor > 1 && g.triangles >= first.triangles * 0.98 ? factor ** 3 : factor;
      }
    };
    let last = Number.POSITIVE_INFINITY;
    await go(start, rung, (g, e) => {
      const light = limits.bytes === null || g.bytes + pictureBytes <= limits.bytes;
      // it does not get simpler any more
      const stuck = g.triangles === last && g.triangles < first.triangles * 0.98;
      last = g.triangles;
      return (e > WORST_E && this.allows(g) && light && g.triangles < first.triangles) || (stuck && e > WORST_E) || g.errorMm > this.sizeMm;
    });
    await go(
      start / rung,
      1 / rung,
      (g, e) => e < BEST_E || !this.allows(g) || g.triangles >= first.triangles * 0.98 || g.errorMm < this.sizeMm * 1e-6,
    );
  }

  /** Where one rung has far fewer triangles than the one below, one is put between. */
  private async fillGaps(): Promise<void> {
    const gaps = GAPS[this.tiny ? 'tiny' : this.small ? 'small' : 'large'];
    const most = Math.min(gaps.most, this.effort.gaps);
    for (let n = 0; n < most; n++) {
      const rungs = this.rungs();
      let [widest, at]: [number, number] = [gaps.drop, -1];
      for (let k = 0; k + 1 < rungs.length; k++) {
        const [a, b] = [rungs[k], rungs[k + 1]];
        const drop = b.first.triangles / a.first.triangles;
        if (drop >= widest || !this.allows(b.first) || b.errorMm <= a.errorMm * 1.05) continue;
        // what no one would take, or may, needs no company
        if (a.leastE >= WORST_E || (this.tiny && this.isBeaten(b.leastBytes, a.leastE * HOPE))) continue;
        [widest, at] = [drop, k];
      }
      if (at < 0) return;
      const made = await this.option(Math.sqrt(rungs[at].errorMm * rungs[at + 1].errorMm));
      this.predictedE(made);
      if (this.tiny) await this.tryBits(made);
      this.ask.progress(0.55 + (0.1 * n) / most, 'looking between');
    }
  }

  /** Shapes of one simplification, the lightest and the best of its bits. */
  private rungs(): { errorMm: number; first: GeometryOption; leastBytes: number; leastE: number }[] {
    const out = new Map<number, { errorMm: number; first: GeometryOption; leastBytes: number; leastE: number }>();
    for (const g of this.options.values()) {
      if (g.errorMm === 0) continue;
      const had = out.get(g.errorMm) ?? { errorMm: g.errorMm, first: g, leastBytes: g.bytes, leastE: Number.POSITIVE_INFINITY };
      had.leastBytes = Math.min(had.leastBytes, g.bytes);
      if (this.guess.has(g) || had.first === g) had.leastE = Math.min(had.leastE, this.predictedE(g));
      out.set(g.errorMm, had);
    }
    return [...out.values()].sort((a, b) => a.errorMm - b.errorMm);
  }

  /** Something known weighs no more and shows no more. */
  private isBeaten(bytes: number, e: number): boolean {
    for (const g of this.known()) if (g.bytes <= bytes && this.predictedE(g) <= e) return true;
    return false;
  }

  /** The same shape with fewer or more bits, taken along where it may come to less than `most`. */
  private async tryBits(g: GeometryOption, most = WORST_E): Promise<void> {
    const near = this.guess.get(g);
    if (!near || this.shapeError(g) > most) return;
    const list = this.bitsAround(g);
    if (this.tiny && list.length > 0) {
      // if the lightest of them with the error of the finest would be beaten, all are
      const [light, fine] = [await this.option(g.errorMm, list[0], true), await this.option(g.errorMm, list[list.length - 1], true)];
      if (this.isBeaten(light.bytes, HOPE * this.shapeError(fine, near.silhouette, near.loss))) return;
    }
    for (const q of list) {
      const other = await this.option(g.errorMm, q, true);
      // a bit more or less is hardly seen in a view; what is chosen is measured as a whole
      if (this.shapeError(other) < most && !this.guess.has(other)) this.borrow(other, near);
    }
  }

  /** Bits to try beside a shape's own; of a tiny one from the coarsest to the finest. */
  private bitsAround(g: GeometryOption): QuantiseSettings[] {
    const q = g.quantise;
    if (!q) return [];
    const clamp = (x: number, lo: number, hi: number) => Math.min(hi, Math.max(lo, x));
    if (this.tiny) {
      const { position, normal } = this.effort.bits;
      return position.flatMap((by) => normal.map((normalBits) => ({ ...q, positionBits: clamp(q.positionBits + by, 6, 16), normalBits })));
    }
    return [
      { ...q, positionBits: clamp(q.positionBits - 1, 6, 16) },
      { ...q, positionBits: clamp(q.positionBits - 2, 6, 16) },
      { ...q, positionBits: clamp(q.positionBits + 1, 6, 16) },
      { ...q, normalBits: clamp(q.normalBits - 1, 5, 12) },
      { ...q, positionBits: clamp(q.positionBits - 1, 6, 16), normalBits: clamp(q.normalBits - 1, 5, 12) },
      { ...q, uvBits: clamp(q.uvBits - 1, 8, 16) },
    ].filter((x) => JSON.stringify(x) !== JSON.stringify(q));
  }
}
