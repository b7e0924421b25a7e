/**
 * The search of the budget solver: the settings that meet the limits of a place of delivery with the least visible error.
 *
 * E is a maximum, so no term is worth more than the worst one: geometry is tried along a ladder of quadric errors, pictures along
 * their own curve of bytes against loss, and only combinations that nothing beats by prediction are packed and measured as a whole.
 * The ladder is then made finer where the limit falls. Nothing is random but the seeded samples of the measures.
 */
import type { Document } from '@gltf-transform/core';
import { bytesWithMips } from '../../intake/check/textures';
import type { StepDraft } from '../../piece/recipe';
import { brokenLimits, unmetWords } from '../limits';
import { errorOf, measureViews, type PictureError, type Reference, type ShapeError } from '../measure/error';
import { readShape } from '../measure/shape';
import type { MipTexture } from '../measure/texture';
import { drawView } from '../measure/view';
import type { DracoModules, Packing } from '../pack';
import type { PictureEncoder } from '../picturetools';
import type { RecipeTools } from '../recipe';
import type { Limits, Solution, VisibleError, Weight } from '../terms';
import { weighDocument } from '../weigh';
import { type GeometryOption, simplifyStep } from './geometry';
import { EFFORTS, type Effort, Ladder, WORST_E } from './ladder';
import { type Assignment, assignments, type TextureChoices, textureChoices } from './textures';

export interface SolveTools extends PictureEncoder {
  sha256: (bytes: Uint8Array) => string;
  draco: DracoModules | null;
  recipe: RecipeTools;
  /** Called often; throws to stop. @param share 0 to 1 */
  progress: (share: number, what: string) => void;
  /** How long is looked for a better answer; left out: `full`. */
  effort?: Effort;
}

/** A simplification falls out better or worse by chance: those of a tiny model are tried at errors so close to one another, so far about the front. */
const PROBE = { step: 1.015, reach: 1.25, worth: 0.99 } as const;
/** From this share of the limit on, a large model's settings are searched more finely there. */
const PRESSED = 0.7;
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
  private readonly found: Measured[] = [];
  private choices: TextureChoices[] = [];
  private factor: number[] = [];
  private ladder!: Ladder;
  private readonly method: Packing['method'];
  private readonly effort: (typeof EFFORTS)[Effort];
  /** What the search does not change; and the pictures as they came. */
  private readonly plain: { weight: Weight; sizes: (readonly [number, number])[] };
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
    this.effort = EFFORTS[tools.effort ?? 'full'];
    this.method = f.draco && tools.draco ? 'draco' : f.meshopt ? 'meshopt' : 'none';
    this.plain = {
      weight: weighDocument(base, 0),
      sizes: base
        .getRoot()
        .listTextures()
        .map((t) => t.getSize() ?? [0, 0]),
    };
  }

  async run(): Promise<Solution> {
    const { base, ref, textures, limits, distanceM, method, tools } = this;
    const shape = readShape(base);
    const views = textures.length > 0 ? ref.cameras.map((c) => drawView(shape, textures, c, true)) : [];
    this.choices = await textureChoices(
      base,
      ref,
      { textures, views, maxEdge: limits.textureEdge ?? 16384, webp: limits.formats.webp },
      tools,
      (s) => tools.progress(0.05 + 0.3 * s, 'trying sizes and formats of pictures'),
    );
    this.factor = this.choices.map(() => 1);
    const edge = Math.max(0, ...this.choices.map((c) => c.options[0].edge));
    const pictureBytes = this.choices.reduce((s, c) => s + c.options[c.options.length - 1].bytes, 0);
    const { draco, progress, effort } = tools;
    this.ladder = new Ladder({ base, ref, textures, limits, distanceM, draco, method, edge, pictureBytes, progress, effort });
    await this.ladder.build();
    await this.calibrate();
    const { small, tiny } = this.ladder;
    const most = small && this.choices.length === 0 ? 32 : 10;
    await this.measureBest(most);
    for (let round = 1; tiny && round < this.effort.rounds && this.looks < this.effort.most; round++) {
      const before = this.looks;
      await this.measureBest(most);
      if (this.looks === before) break;
    }
    if (tiny) {
      // every prediction that nothing beats, not only some of them
      for (let before = -1; before < this.looks && this.looks < this.effort.most; ) {
        before = this.looks;
        await this.measureBest(Number.POSITIVE_INFINITY);
      }
      await this.probe();
    }
    await this.closeIn();
    return this.answer();
  }

  /** How much of a texture's loss shows in the views: asked for once each, at a middling option. */
  private async calibrate(): Promise<void> {
    const first = await this.ladder.first();
    const clean = this.ladder.viewLoss(first);
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

  /** Combinations no other beats by prediction, lightest first. */
  private predicted(): Candidate[] {
    const textures = assignments(this.choices, this.factor);
    const all: Candidate[] = [];
    for (const geometry of this.ladder.known())
      for (const t of textures)
        all.push({
          geometry,
          pick: t.pick,
          bytes: geometry.bytes + t.bytes + this.named,
          e: this.ladder.predictedE(geometry, t.loss),
        });
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
    this.named = await this.ladder.naming(new Map(this.choices.map((c, i) => [c.at, types[i]])));
    this.namings.set(key, this.named);
    return this.named;
  }

  /** Least E of what was measured, weighs no more and breaks no limit but that of bytes. */
  private leastE(bytes: number): number {
    const able = (m: Measured) => brokenLimits(this.weightOf(m), this.limits).every((k) => k === 'bytes');
    return Math.min(Number.POSITIVE_INFINITY, ...this.found.flatMap((m) => (m.bytes <= bytes && able(m) ? [m.e] : [])));
  }

  /** E of what was measured at so many bytes, log-linear between its best; infinite for fewer than the lightest has. */
  private lineE(bytes: number): number {
    const front = pareto(this.found, (m) => m.bytes);
    const k = front.findIndex((m) => m.bytes > bytes);
    if (k === 0 || front.length === 0) return Number.POSITIVE_INFINITY;
    if (k < 0) return front[front.length - 1].e;
    const [a, b] = [front[k - 1], front[k]];
    return a.e * (b.e / a.e) ** (Math.log(bytes / a.bytes) / Math.log(b.bytes / a.bytes));
  }

  /**
   * Measures a combination as a whole, its views only until it is plain that it comes to `most` or more.
   * @param most left out, what something lighter comes to
   */
  private async measure(c: Candidate, most?: (bytes: number) => number): Promise<void> {
    const { geometry } = c;
    const done = this.tried.get(geometry) ?? new Set<string>();
    if (done.has(c.pick.join())) return;
    this.tried.set(geometry, done.add(c.pick.join()));
    this.looks++;
    const pictures = this.choices.reduce((s, x, i) => s + Math.ceil(x.options[c.pick[i]].bytes / 4) * 4, 0);
    const bytes = geometry.bytes + pictures + (await this.naming(c.pick));
    const least = most ? most(bytes) : this.leastE(bytes);
    const nothing = { meanMm: 0, maxMm: 0, normalDeg: 0 };
    const errorWith = ({ meanMm, maxMm, normalDeg }: ShapeError, v: PictureError): VisibleError => ({
      meanMm,
      maxMm,
      normalDeg,
      silhouette: v.silhouette,
      ssimWorst: v.ssimWorst,
      worstView: v.worstView,
    });
    const seenTooMuch = (v: PictureError) => errorOf(errorWith(nothing, v), this.distanceM) >= least;
    const bare = this.choices.length === 0;
    const known = bare ? this.ladder.viewsOf(geometry) : undefined;
    const view = known ?? measureViews(this.ref, geometry.shape, this.worn(c.pick), this.order, seenTooMuch);
    // without pictures this is what the shape alone does, or at least that: no guess any more
    if (bare) this.ladder.learn(geometry, view);
    if (!known && view.byLoss.length === this.ref.cameras.length) this.order = view.byLoss;
    if (seenTooMuch(view)) return;
    this.ladder.lookWhole(geometry);
    const error = errorWith(geometry, view);
    const e = errorOf(error, this.distanceM);
    if (e < least) this.found.push({ ...c, bytes, e, error });
  }

  /** The best predictions over the whole range, and the best under the limit. */
  private async measureBest(most: number): Promise<void> {
    const list = this.predicted().filter((c) => this.ladder.allows(c.geometry));
    if (list.length === 0) return;
    const [low, high] = [Math.log(list[0].bytes), Math.log(list[list.length - 1].bytes)];
    const wanted = new Set<Candidate>(most < list.length ? [list[0], list[list.length - 1]] : list);
    for (let i = 0; most < list.length && i < most; i++) {
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

  /** Simplifications near those of the front, with the bits that were best there. */
  private async probe(): Promise<void> {
    const front = pareto(this.found, (m) => m.bytes)
      .filter((m) => m.geometry.errorMm > 0 && m.e <= WORST_E)
      .map((m) => m.geometry)
      .sort((a, b) => a.errorMm - b.errorMm);
    const errors: number[] = [];
    for (const g of front)
      for (let mm = g.errorMm / PROBE.reach; mm < g.errorMm * PROBE.reach; mm *= PROBE.step)
        if (errors.length === 0 || mm >= errors[errors.length - 1] * PROBE.step) errors.push(mm);
    const every = Math.max(1, errors.length / this.effort.probes);
    for (let i = 0; i < errors.length; i += every) {
      const errorMm = errors[Math.floor(i)];
      // the coarser neighbour: what it wears is what fewer bytes ask for
      const { quantise } = front.find((g) => g.errorMm >= errorMm) ?? front[front.length - 1];
      const geometry = await this.ladder.glance(errorMm, quantise);
      if (!this.ladder.allows(geometry)) continue;
      await this.measure({ geometry, pick: [], bytes: geometry.bytes, e: 0 }, (bytes) => this.lineE(bytes) * PROBE.worth);
      this.tools.progress(0.85 + (0.05 * i) / errors.length, 'looking between');
    }
  }

  /** Finer where the limit falls: between the best within it and the next beyond, and a bit more or less to each number. */
  private async closeIn(): Promise<void> {
    const rounds = this.ladder.small ? 5 : 2;
    for (let round = 0; round < rounds; round++) {
      const best = this.best();
      if (!best || !this.isPressed(best)) return;
      await this.ladder.addBeside(best.geometry);
      await this.ladder.addBitsAbout(best.geometry, best.e * 1.2);
      const limit = this.limits.bytes ?? best.bytes;
      const list = this.predicted().filter((c) => this.ladder.allows(c.geometry) && c.bytes <= limit);
      const before = this.looks;
      for (const c of list.slice(-2)) await this.measure(c);
      this.tools.progress(0.9 + (0.09 * round) / rounds, 'closing in');
      if (this.looks === before) return;
    }
  }

  /** The limit decides what is chosen; of a small model it is looked for anyway. */
  private isPressed(best: Measured): boolean {
    return this.ladder.small || this.limits.bytes === null || best.bytes > this.limits.bytes * PRESSED;
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
