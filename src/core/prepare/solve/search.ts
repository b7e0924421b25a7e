/**
 * The search of the budget solver: the settings that meet the limits of a place of delivery with the least visible error.
 *
 * E is a maximum, so no term is worth more than the worst one: geometry is tried along a ladder of quadric errors, pictures along
 * their own curve of bytes against loss, and only combinations that nothing beats by prediction are packed and measured as a whole.
 * The ladder is then made finer where the limit falls. Nothing is random but the seeded samples of the measures.
 */
import type { Document } from '@gltf-transform/core';
import { bytesWithMips } from '../../intake/check/textures';
import type { QuantiseSettings, StepDraft } from '../../piece/recipe';
import { brokenLimits, unmetWords } from '../limits';
import { errorOf, measureViews, type PictureError, type Reference, sizeOf } from '../measure/error';
import { readShape } from '../measure/shape';
import type { MipTexture } from '../measure/texture';
import { drawView } from '../measure/view';
import type { DracoModules, Packing } from '../pack';
import type { PictureEncoder } from '../pictures';
import type { RecipeTools } from '../recipe';
import { type Limits, type Solution, THRESHOLDS, type VisibleError, type Weight } from '../terms';
import { REFERENCE_M } from '../viewing';
import { weighDocument } from '../weigh';
import { type GeometryOption, GeometrySource, simplifyStep } from './geometry';
import { type Assignment, assignments, type TextureChoices, textureChoices } from './textures';

export interface SolveTools extends PictureEncoder {
  sha256: (bytes: Uint8Array) => string;
  draco: DracoModules | null;
  recipe: RecipeTools;
  /** Called often; throws to stop. @param share 0 to 1 */
  progress: (share: number, what: string) => void;
}

/** Rungs of the ladder, as multiples: a model of few triangles is quick to measure, so its ladder is finer. */
const [FINE, COARSE] = [2 ** 0.5, 2 ** 0.75];
const SMALL = 20_000;
/** Under this many triangles packing is so quick that bits are tried as a grid about each rung. */
const TINY = 6_000;
const BITS_ABOUT = { position: [-2, -1, 0, 1], normal: [5, 6, 7, 8] } as const;
/** What looked best by prediction is measured, and predicted anew with what that taught: so often, and so many in all. */
const LESSONS = { rounds: 12, most: 90 } as const;
/** Step of the numbers over the error of the simplification: from grids over both on a torus and a blob. */
const STEP_SHARE = 0.45;
/** Steps tried on the model as it came, as shares of the mean that is not seen. */
const STEPS = [0.25, 0.5, 1, 2, 4];
const MOST_RUNGS = 40;
/** Triangles a rung may have of those of the rung below, and how many rungs are put in. */
const GAPS = { tiny: { drop: 0.9, most: 14 }, small: { drop: 0.82, most: 10 }, large: { drop: 0.68, most: 6 } } as const;
/** Views a first look is taken from, at a large model or at one of very many rungs: those in which the first simplification showed most. */
const FIRST_VIEWS = 4;
/** From this share of the limit on, a large model's settings are searched more finely there. */
const PRESSED = 0.7;
/** Where the ladder ends: what is worse or better than this no one chooses. */
const [BEST_E, WORST_E] = [0.15, 6];

interface Candidate {
  geometry: GeometryOption;
  pick: Assignment;
  bytes: number;
  e: number;
}
/** With the bytes of the whole file. */
interface Measured extends Candidate {
  error: VisibleError;
}

/** The search over one document, whose steps are settled but for shapes and pictures. */
export class Search {
  private readonly options = new Map<string, GeometryOption>();
  private readonly found: Measured[] = [];
  private choices: TextureChoices[] = [];
  private factor: number[] = [];
  private geometry!: GeometrySource;
  private readonly method: Packing['method'];
  /** What the search does not change; and the pictures as they came. */
  private readonly plain: { weight: Weight; sizes: (readonly [number, number])[] };
  private readonly sizeMm: number;
  private readonly small: boolean;
  private readonly tiny: boolean;
  /** What geometry alone does to the views: measured, and as it is reckoned with. */
  private readonly views = new Map<GeometryOption, PictureError>();
  private readonly guess = new Map<GeometryOption, { loss: number; silhouette: number }>();
  /** Numbers of the views that first looks are taken from; null: not known yet. */
  private telling: number[] | null = null;
  private readonly namings = new Map<string, number>();
  /** Combinations that were measured, by shape and what pictures it wears; and how many. */
  private readonly tried = new Map<GeometryOption, Set<string>>();
  private looks = 0;
  /** Numbers of the views, the one that showed most last time first. */
  private order: readonly number[] | undefined;
  /** As last found. */
  private named = 0;

  constructor(
    private readonly base: Document,
    private readonly prefix: readonly StepDraft[],
    private readonly ref: Reference,
    private readonly textures: readonly (MipTexture | null)[],
    private readonly limits: Limits,
    private readonly distanceM: number,
    private readonly tools: SolveTools,
  ) {
    const f = limits.formats;
    this.method = f.draco && tools.draco ? 'draco' : f.meshopt ? 'meshopt' : 'none';
    this.plain = {
      weight: weighDocument(base, 0),
      sizes: base
        .getRoot()
        .listTextures()
        .map((t) => t.getSize() ?? [0, 0]),
    };
    this.sizeMm = sizeOf(ref.shape) * 1000;
    this.small = ref.shape.triangles.length / 3 < SMALL;
    this.tiny = ref.shape.triangles.length / 3 < TINY && this.textures.length === 0;
  }

  async run(): Promise<Solution> {
    const { tools } = this;
    const hasShape = this.ref.shape.triangles.length > 0;
    this.geometry = new GeometrySource(this.base, this.ref, tools.draco, this.method);
    const shape = readShape(this.base);
    const views = this.textures.length > 0 ? this.ref.cameras.map((c) => drawView(shape, this.textures, c, true)) : [];
    this.choices = await textureChoices(
      this.base,
      this.ref,
      { textures: this.textures, views, maxEdge: this.limits.textureEdge ?? 16384, webp: this.limits.formats.webp },
      tools,
      (s) => tools.progress(0.05 + 0.3 * s, 'trying sizes and formats of pictures'),
    );
    this.factor = this.choices.map(() => 1);
    await this.climb(hasShape);
    await this.fillGaps();
    // a small model is quick to measure: its whole front is looked at closely
    if (this.small) for (const g of [...this.options.values()]) await this.tryBits(g, WORST_E);
    await this.calibrate();
    const most = this.small && this.choices.length === 0 ? 32 : 10;
    await this.measureBest(most);
    for (let round = 1; this.tiny && round < LESSONS.rounds && this.looks < LESSONS.most; round++) {
      const before = this.looks;
      await this.measureBest(most);
      if (this.looks === before) break;
    }
    await this.closeIn();
    return this.answer();
  }

  /** Bits whose steps are about half the error of the simplification: what they lose is cheaper than triangles. */
  private bitsFor(errorMm: number): QuantiseSettings | null {
    if (this.method === 'none') return null;
    const stepMm = Math.max(errorMm * STEP_SHARE, this.sizeMm / 2 ** 14);
    return this.bits(stepMm, errorMm * 1000 > this.sizeMm ? 7 : 8);
  }

  private bits(stepMm: number, normalBits: number): QuantiseSettings {
    const edge = Math.max(256, ...this.choices.map((c) => c.options[0].edge));
    const positionBits = Math.min(14, Math.max(7, Math.ceil(Math.log2(this.sizeMm / stepMm))));
    return { positionBits, normalBits, uvBits: Math.min(14, Math.ceil(Math.log2(edge)) + 2) };
  }

  private async option(errorMm: number, quantise = this.bitsFor(errorMm), quick = false): Promise<GeometryOption> {
    const key = `${errorMm} ${JSON.stringify(quantise)}`;
    const had = this.options.get(key);
    if (had) return had;
    const made = await this.geometry.option(errorMm, quantise, quick);
    this.options.set(key, made);
    return made;
  }

  /** What geometry alone costs; the views are only drawn when the distances allow it. */
  private shapeError(g: GeometryOption, silhouette = 0, loss = 0): number {
    const ssimWorst = 1 - loss;
    return errorOf({ meanMm: g.meanMm, maxMm: g.maxMm, normalDeg: g.normalDeg, silhouette, ssimWorst, worstView: '' }, this.distanceM);
  }

  /** Loss of similarity by geometry alone; 0 for what its distances rule out anyway. */
  private viewLoss(g: GeometryOption): number {
    const had = this.guess.get(g);
    if (had) return had.loss;
    if (this.shapeError(g) > WORST_E * 2) {
      this.guess.set(g, { loss: 0, silhouette: 0 });
      return 0;
    }
    const v = measureViews(this.ref, g.shape, this.textures, this.telling ?? undefined);
    if (!this.telling) this.views.set(g, v);
    // as it came it shows nothing anywhere
    if ((this.tiny || !this.small) && !this.telling && g.errorMm > 0) this.telling = v.byLoss.slice(0, FIRST_VIEWS);
    this.guess.set(g, { loss: 1 - v.ssimWorst, silhouette: v.silhouette });
    return 1 - v.ssimWorst;
  }

  private geometryE(g: GeometryOption): number {
    const loss = this.viewLoss(g);
    return this.shapeError(g, this.guess.get(g)?.silhouette, loss);
  }

  /** From the model as it came to one no one would take. */
  private async climb(hasShape: boolean): Promise<void> {
    const first = await this.option(0);
    this.viewLoss(first);
    if (!hasShape || this.sizeMm === 0) return;
    const unseenMm = (THRESHOLDS.meanMm * this.distanceM) / REFERENCE_M;
    if (this.method !== 'none' && this.allows(first))
      for (const share of STEPS) {
        const g = await this.option(0, this.bits(unseenMm * share, 8));
        const near = this.guess.get(first);
        if (near && !this.guess.has(g)) this.guess.set(g, near);
      }
    const rung = this.small ? FINE : COARSE;
    const start = Math.min(unseenMm, this.sizeMm / 200);
    const climb = async (from: number, factor: number, stop: (g: GeometryOption, e: number) => boolean) => {
      for (let k = 0, mm = from; k < MOST_RUNGS; k++) {
        const g = await this.option(mm);
        this.tools.progress(0.35 + Math.min(0.3, this.options.size * 0.012), `simplified to ${g.triangles} triangles`);
        if (stop(g, this.geometryE(g))) return;
        // where nothing has changed yet the rungs may lie wider
        mm *= factor > 1 && g.triangles >= first.triangles * 0.98 ? factor ** 3 : factor;
      }
    };
    let last = Number.POSITIVE_INFINITY;
    await climb(start, rung, (g, e) => {
      const light = this.limits.bytes === null || g.bytes + this.leastPictures() <= this.limits.bytes;
      // it does not get simpler any more
      const stuck = g.triangles === last && g.triangles < first.triangles * 0.98;
      last = g.triangles;
      return (e > WORST_E && this.allows(g) && light && g.triangles < first.triangles) || (stuck && e > WORST_E) || g.errorMm > this.sizeMm;
    });
    await climb(
      start / rung,
      1 / rung,
      (g, e) => e < BEST_E || !this.allows(g) || g.triangles >= first.triangles * 0.98 || g.errorMm < this.sizeMm * 1e-6,
    );
  }

  /** Where one rung has far fewer triangles than the one below, one is put between. */
  private async fillGaps(): Promise<void> {
    const gaps = GAPS[this.tiny ? 'tiny' : this.small ? 'small' : 'large'];
    for (let n = 0; n < gaps.most; n++) {
      const rungs = [...this.options.values()].filter((g) => g.errorMm > 0).sort((a, b) => a.errorMm - b.errorMm);
      let [widest, at]: [number, number] = [gaps.drop, -1];
      for (let k = 0; k + 1 < rungs.length; k++) {
        const drop = rungs[k + 1].triangles / rungs[k].triangles;
        // what no one would take, or may, needs no company
        if (
          drop < widest &&
          this.allows(rungs[k + 1]) &&
          this.geometryE(rungs[k]) < WORST_E &&
          rungs[k + 1].errorMm > rungs[k].errorMm * 1.05
        )
          [widest, at] = [drop, k];
      }
      if (at < 0) return;
      this.geometryE(await this.option(Math.sqrt(rungs[at].errorMm * rungs[at + 1].errorMm)));
      this.tools.progress(0.65, 'looking between');
    }
  }

  private leastPictures(): number {
    return this.choices.reduce((s, c) => s + c.options[c.options.length - 1].bytes, 0);
  }

  /** How much of a texture's loss shows in the views: asked for once each, at a middling option. */
  private async calibrate(): Promise<void> {
    const first = await this.option(0);
    const clean = this.viewLoss(first);
    const heavy = this.choices
      .map((c, i) => ({ i, bytes: c.options[0].bytes }))
      .sort((a, b) => b.bytes - a.bytes)
      .slice(0, 8);
    for (const { i } of heavy) {
      const c = this.choices[i];
      const k = Math.floor(c.options.length / 2);
      const expected = c.options[k].loss * c.share;
      if (k === 0 || expected <= 1e-6) continue;
      const pick = this.choices.map((_, j) => (j === i ? k : 0));
      const shown = 1 - measureViews(this.ref, first.shape, this.worn(pick)).ssimWorst - clean;
      this.factor[i] = Math.max(0.02, shown / expected);
      this.tools.progress(0.66, `how much of ${c.name} shows`);
    }
  }

  /** Decoded textures of an assignment. */
  private worn(pick: Assignment): (MipTexture | null)[] {
    const out = [...this.textures];
    this.choices.forEach((c, i) => {
      out[c.at] = c.options[pick[i]].mip;
    });
    return out;
  }

  private allows(g: GeometryOption): boolean {
    return this.limits.triangles === null || g.triangles <= this.limits.triangles;
  }

  /** Combinations no other beats by prediction, lightest first. */
  private predicted(): Candidate[] {
    const textures = assignments(this.choices, this.factor);
    const all: Candidate[] = [];
    for (const geometry of this.options.values()) {
      if (!this.guess.has(geometry)) continue;
      const loss = this.viewLoss(geometry);
      for (const t of textures)
        all.push({
          geometry,
          pick: t.pick,
          bytes: geometry.bytes + t.bytes + this.named,
          e: this.shapeError(geometry, this.guess.get(geometry)?.silhouette, loss + t.loss),
        });
    }
    return pareto(all, (c) => c.bytes);
  }

  /** Bytes that pictures take besides their own: a format that is an extension is named in the file. */
  private async naming(pick: Assignment): Promise<number> {
    const types = this.choices.map((c, i) => c.options[pick[i]].encoding?.format ?? 'keep');
    const key = types.join();
    const had = this.namings.get(key);
    if (had !== undefined) {
      this.named = had;
      return had;
    }
    this.named = await this.geometry.naming(new Map(this.choices.map((c, i) => [c.at, types[i]])));
    this.namings.set(key, this.named);
    return this.named;
  }

  /** Least E of what was measured, weighs no more and breaks no limit but that of bytes. */
  private leastE(bytes: number): number {
    const able = (m: Measured) => brokenLimits(this.weightOf(m), this.limits).every((k) => k === 'bytes');
    return Math.min(Number.POSITIVE_INFINITY, ...this.found.flatMap((m) => (m.bytes <= bytes && able(m) ? [m.e] : [])));
  }

  /** Measures a combination as a whole, its views only until it is plain that something lighter shows less. */
  private async measure(c: Candidate): Promise<void> {
    const { geometry } = c;
    const done = this.tried.get(geometry) ?? new Set<string>();
    if (done.has(c.pick.join())) return;
    this.tried.set(geometry, done.add(c.pick.join()));
    this.looks++;
    this.geometry.lookWhole(geometry);
    const pictures = this.choices.reduce((s, x, i) => s + Math.ceil(x.options[c.pick[i]].bytes / 4) * 4, 0);
    const bytes = geometry.bytes + pictures + (await this.naming(c.pick));
    const errorWith = (v: PictureError): VisibleError => ({
      meanMm: geometry.meanMm,
      maxMm: geometry.maxMm,
      normalDeg: geometry.normalDeg,
      silhouette: v.silhouette,
      ssimWorst: v.ssimWorst,
      worstView: v.worstView,
    });
    const least = this.leastE(bytes);
    const beaten = (v: PictureError) => errorOf(errorWith(v), this.distanceM) >= least;
    const known = this.choices.length === 0 ? this.views.get(geometry) : undefined;
    const view = known ?? measureViews(this.ref, geometry.shape, this.worn(c.pick), this.order, beaten);
    // without pictures this is what the shape alone does, or at least that: no guess any more
    if (this.choices.length === 0) this.guess.set(geometry, { loss: 1 - view.ssimWorst, silhouette: view.silhouette });
    if (!known && view.byLoss.length === this.ref.cameras.length) this.order = view.byLoss;
    if (beaten(view)) return;
    const error = errorWith(view);
    this.found.push({ ...c, bytes, e: errorOf(error, this.distanceM), error });
  }

  /** The best predictions over the whole range, and the best under the limit. */
  private async measureBest(most: number): Promise<void> {
    const list = this.predicted().filter((c) => this.allows(c.geometry));
    if (list.length === 0) return;
    const [low, high] = [Math.log(list[0].bytes), Math.log(list[list.length - 1].bytes)];
    const wanted = new Set<Candidate>([list[0], list[list.length - 1]]);
    for (let i = 0; i < most; i++) {
      const bytes = Math.exp(low + ((high - low) * i) / Math.max(1, most - 1));
      const c = list.findLast((x) => x.bytes <= bytes);
      if (c) wanted.add(c);
    }
    const under = list.findLast((c) => c.bytes <= (this.limits.bytes ?? Number.POSITIVE_INFINITY));
    const unseen = list.find((c) => c.e <= 1);
    for (const c of [under, unseen]) if (c) wanted.add(c);
    let done = 0;
    for (const c of wanted) {
      await this.measure(c);
      this.tools.progress(0.68 + (0.17 * ++done) / wanted.size, 'measuring combinations');
    }
  }

  /** Finer where the limit falls: between the best within it and the next beyond, and a bit more or less to each number. */
  private async closeIn(): Promise<void> {
    const rounds = this.small ? 5 : 2;
    for (let round = 0; round < rounds; round++) {
      const best = this.best();
      if (!best || !this.isPressed(best)) return;
      for (const mm of this.between(best)) this.geometryE(await this.option(mm));
      for (const g of this.finerThan(best.geometry)) await this.tryBits(g, best.e * 1.2);
      const limit = this.limits.bytes ?? best.bytes;
      const list = this.predicted().filter((c) => this.allows(c.geometry) && c.bytes <= limit);
      const before = this.looks;
      for (const c of list.slice(-2)) await this.measure(c);
      this.tools.progress(0.86 + (0.13 * round) / rounds, 'closing in');
      if (this.looks === before) return;
    }
  }

  /** The limit decides what is chosen; of a small model it is looked for anyway. */
  private isPressed(best: Measured): boolean {
    return this.small || this.limits.bytes === null || best.bytes > this.limits.bytes * PRESSED;
  }

  /** The same shape with fewer or more bits, taken along where it may come to less than `most`. */
  private async tryBits(g: GeometryOption, most: number): Promise<void> {
    const near = this.guess.get(g);
    if (!near || this.shapeError(g) > most) return;
    for (const q of this.bitsAround(g)) {
      const other = await this.option(g.errorMm, q, true);
      // a bit more or less is hardly seen in a view; what is chosen is measured as a whole
      if (this.shapeError(other) < most && !this.guess.has(other)) this.guess.set(other, near);
    }
  }

  /** The geometry itself and the two next finer ones: with fewer bits they may come within the limit. */
  private finerThan(g: GeometryOption): GeometryOption[] {
    const rungs = new Map<number, GeometryOption>();
    for (const o of this.options.values()) if (o.errorMm < g.errorMm && o.errorMm > 0 && !rungs.has(o.errorMm)) rungs.set(o.errorMm, o);
    const finer = [...rungs.values()].sort((a, b) => b.errorMm - a.errorMm).slice(0, 2);
    return [g, ...finer];
  }

  /** Rungs that are not there yet, beside the one that is best. */
  private between(best: Measured): number[] {
    const at = best.geometry.errorMm;
    if (at === 0) return [];
    const rungs = [...new Set([...this.options.values()].map((g) => g.errorMm))].sort((a, b) => a - b);
    const k = rungs.indexOf(at);
    return [rungs[k - 1], rungs[k + 1]].filter((x) => x > 0).map((x) => Math.sqrt(x * at));
  }

  private bitsAround(g: GeometryOption): QuantiseSettings[] {
    const q = g.quantise;
    if (!q) return [];
    const clamp = (x: number, lo: number, hi: number) => Math.min(hi, Math.max(lo, x));
    if (this.tiny)
      return BITS_ABOUT.position.flatMap((by) =>
        BITS_ABOUT.normal.map((normalBits) => ({ ...q, positionBits: clamp(q.positionBits + by, 6, 16), normalBits })),
      );
    return [
      { ...q, positionBits: clamp(q.positionBits - 1, 6, 16) },
      { ...q, positionBits: clamp(q.positionBits - 2, 6, 16) },
      { ...q, positionBits: clamp(q.positionBits + 1, 6, 16) },
      { ...q, normalBits: clamp(q.normalBits - 1, 5, 12) },
      { ...q, positionBits: clamp(q.positionBits - 1, 6, 16), normalBits: clamp(q.normalBits - 1, 5, 12) },
      { ...q, uvBits: clamp(q.uvBits - 1, 8, 14) },
    ].filter((x) => JSON.stringify(x) !== JSON.stringify(q));
  }

  private weightOf(m: Measured): Weight {
    const texture = (at: number) => {
      const i = this.choices.findIndex((c) => c.at === at);
      return i < 0 ? null : this.choices[i].options[m.pick[i]];
    };
    const sizes = this.plain.sizes.map(([w, h], at) => ({ w, h, as: texture(at) }));
    return {
      ...this.plain.weight,
      bytes: m.bytes,
      triangles: m.geometry.triangles,
      drawCalls: m.geometry.drawCalls,
      textureEdge: Math.max(0, ...sizes.map(({ w, h, as }) => as?.edge ?? Math.max(w, h))),
      deviceBytes:
        m.geometry.deviceBytes +
        sizes.reduce(
          (sum, { w, h, as }) => sum + (as ? bytesWithMips(as.mip.levels[0].width, as.mip.levels[0].height) : bytesWithMips(w, h)),
          0,
        ),
    };
  }

  private readonly fits = (m: Measured): boolean => brokenLimits(this.weightOf(m), this.limits).length === 0;

  /** Least error within the limits; where none is within, the one that breaks fewest and lies nearest. */
  private best(): Measured | null {
    const within = this.found.filter(this.fits);
    // without a limit in bytes, lighter is better as long as it is not seen
    const unseen = within.filter((m) => m.e <= 1);
    if (this.limits.bytes === null && unseen.length > 0) return unseen.reduce((a, b) => (b.bytes < a.bytes ? b : a));
    if (within.length > 0) return within.reduce((a, b) => (b.e < a.e || (b.e === a.e && b.bytes < a.bytes) ? b : a));
    const broken = (m: Measured) => brokenLimits(this.weightOf(m), this.limits).length;
    return this.found.reduce<Measured | null>(
      (a, b) => (!a || broken(b) < broken(a) || (broken(b) === broken(a) && b.bytes < a.bytes) ? b : a),
      null,
    );
  }

  private stepsOf(m: Measured): StepDraft[] {
    const steps: StepDraft[] = [...this.prefix];
    if (m.geometry.errorMm > 0) steps.push(simplifyStep(m.geometry.errorMm));
    const pictures = this.choices.flatMap((c, i) => {
      const encoding = c.options[m.pick[i]].encoding;
      return encoding ? [{ texture: c.name, was: c.sha, ...encoding }] : [];
    });
    if (pictures.length > 0) steps.push({ step: 'pictures', settings: { roles: [], textures: pictures } });
    if (this.method !== 'none') steps.push({ step: 'reorder', settings: {} });
    if (m.geometry.quantise) steps.push({ step: 'quantise', settings: m.geometry.quantise });
    if (this.method !== 'none') steps.push({ step: 'compress', settings: { method: this.method } });
    return steps;
  }

  private answer(): Solution {
    const best = this.best();
    if (!best) return { front: [], chosen: -1, met: false, unmet: ['The model has nothing that could be made lighter.'], measured: 0 };
    const list = pareto(this.found, (m) => m.bytes);
    if (!list.includes(best)) list.push(best);
    list.sort((a, b) => a.bytes - b.bytes || b.e - a.e);
    const met = this.fits(best);
    return {
      front: list.map((m) => ({ bytes: m.bytes, triangles: m.geometry.triangles, e: m.e, error: m.error, steps: this.stepsOf(m) })),
      chosen: list.indexOf(best),
      met,
      unmet: met ? [] : unmetWords(this.weightOf(best), best.geometry.bytes, this.limits),
      measured: this.looks,
    };
  }
}

/** What nothing else beats in both bytes and E, lightest first. */
export function pareto<T extends { e: number }>(list: readonly T[], bytes: (x: T) => number): T[] {
  const sorted = [...list].sort((a, b) => bytes(a) - bytes(b) || a.e - b.e);
  const out: T[] = [];
  for (const x of sorted) if (out.length === 0 || x.e < out[out.length - 1].e) out.push(x);
  return out;
}
