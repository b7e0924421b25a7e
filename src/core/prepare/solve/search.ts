/**
 * The search of the budget solver: the settings that meet the limits of a place of delivery with the least visible error.
 *
 * E is a maximum, so no term is worth more than the worst one: geometry is tried along a ladder of quadric errors, pictures along
 * their own curve of bytes against loss, and only combinations that nothing beats by prediction are packed and measured as a whole.
 * The ladder is then made finer where the limit falls. Nothing is random but the seeded samples of the measures.
 */
import type { Document } from '@gltf-transform/core';
import type { StepDraft } from '../../piece/recipe';
import { errorOf, measureViews, type PictureError, type Reference, type ShapeError } from '../measure/error';
import { readShape } from '../measure/shape';
import type { MipTexture } from '../measure/texture';
import { drawView } from '../measure/view';
import type { DracoModules, Packing } from '../pack';
import type { PictureEncoder } from '../picturetools';
import type { RecipeTools } from '../recipe';
import type { Limits, Solution, VisibleError } from '../terms';
import { type Candidate, Found, type Measured, pareto } from './found';
import { type GeometryOption, lightestMethod } from './geometry';
import { EFFORTS, type Effort, Ladder, WORST_E } from './ladder';
import { compareRanks, type Rank, rankOf } from './rank';
import { type Assignment, addBetween, assignments, keyOf, picturesBytes, raised, type TextureChoices, textureChoices } from './textures';

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
const ROUNDS = { other: 4, few: 3 } as const;
/** Where what is left of a limit is spent: rounds in a row that may bring nothing, combinations measured and pictures refined in each, by which share at most they grow. */
const SPENDING = { idle: 2, looks: 2, pictures: 2, more: 0.25 } as const;
/** Shares of the views a prediction may be off by without anything being learnt of it. */
const LEARN = { from: 0.15, least: 5e-4, factor: 4 } as const;

/** The search over one document, whose steps are settled but for shapes and pictures. */
export class Search {
  private readonly found: Found;
  private choices: TextureChoices[] = [];
  private factor: number[] = [];
  private ladder!: Ladder;
  private method: Packing['method'] = 'none';
  private readonly effort: (typeof EFFORTS)[Effort];
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
    prefix: readonly StepDraft[],
    private readonly ref: Reference,
    private readonly textures: readonly (MipTexture | null)[],
    private readonly limits: Limits,
    private readonly distanceM: number,
    private readonly tools: SolveTools,
  ) {
    this.effort = EFFORTS[tools.effort ?? 'full'];
    this.found = new Found(base, prefix, limits, distanceM);
  }

  async run(): Promise<Solution> {
    const { base, ref, textures, limits, distanceM, tools } = this;
    const methods = this.methods();
    this.method = await lightestMethod(base, methods, tools.draco);
    const shape = readShape(base);
    const views = textures.length > 0 ? ref.cameras.map((c) => drawView(shape, textures, c, true)) : [];
    this.choices = await textureChoices(
      base,
      ref,
      { textures, views, maxEdge: limits.textureEdge ?? 16384, webp: limits.formats.webp },
      tools,
      (s) => tools.progress(0.05 + 0.3 * s, 'trying sizes and formats of pictures'),
    );
    this.found.choices = this.choices;
    this.factor = this.choices.map(() => 1);
    const edge = Math.max(0, ...this.choices.map((c) => c.options[0].edge));
    const pictureBytes = this.choices.reduce((s, c) => s + c.options[c.options.length - 1].bytes, 0);
    const { draco, progress, effort } = tools;
    const { method } = this;
    this.ladder = new Ladder({ base, ref, textures, limits, distanceM, draco, method, edge, pictureBytes, progress, effort });
    await this.ladder.build();
    await this.calibrate();
    const { small } = this.ladder;
    const most = small && this.choices.length === 0 ? 32 : 10;
    await this.measureBest(most);
    // what was measured teaches what is predicted: a larger model gets fewer rounds, and looks only where it matters; a tiny one the same
    // where the limit leaves room for the best of it
    const tiny = this.ladder.tiny && this.limitMatters();
    const rounds = tiny ? this.effort.rounds : Math.min(this.effort.rounds, ROUNDS.other);
    for (let round = 1; round < rounds && this.looks < this.effort.most; round++) {
      const before = this.looks;
      await this.measureBest(tiny ? most : ROUNDS.few);
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
    await this.spend();
    await this.tryOthers(methods);
    return this.found.answer(this.looks);
  }

  /** How bytes may be packed; what takes most off plain shapes first. */
  private methods(): Packing['method'][] {
    const { draco, meshopt } = this.limits.formats;
    const out: Packing['method'][] = [];
    if (draco && this.tools.draco) out.push('draco');
    if (meshopt) out.push('meshopt');
    return out.length > 0 ? out : ['none'];
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
      const pick = this.choices.map(({ options }, j) => options[j === i ? k : 0]);
      const shown = 1 - measureViews(this.ref, first.shape, this.worn(pick)).ssimWorst - clean;
      this.factor[i] = Math.max(0.02, shown / expected);
      this.tools.progress(0.66, `how much of ${c.name} shows`);
    }
  }

  /** Decoded textures of an assignment. */
  private worn(pick: Assignment): (MipTexture | null)[] {
    const out = [...this.textures];
    this.choices.forEach((c, i) => {
      out[c.at] = pick[i].mip;
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
    const types = pick.map((o) => o.encoding?.format ?? 'keep');
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

  /** Loss of similarity the pictures of an assignment bring, as it is reckoned with. */
  private picturesLoss(pick: Assignment): number {
    return this.choices.reduce((sum, c, i) => sum + pick[i].loss * c.share * this.factor[i], 0);
  }

  /** What each picture that is seen loses by itself. */
  private ownLosses(pick: Assignment): number[] {
    return this.choices.map((c, i) => (c.share > 0 ? pick[i].loss : 0));
  }

  /** What a combination showed corrects what is predicted of others: of its shape where that does most of it, else of pictures. */
  private learn({ geometry, pick }: Candidate, view: PictureError, complete: boolean): void {
    const pictures = this.picturesLoss(pick);
    const shown = 1 - view.ssimWorst;
    let shape = this.ladder.viewLoss(geometry);
    // until all views are seen it is at least that; small differences teach nothing
    const isNews = () => {
      const off = shown - shape - pictures;
      return Math.abs(off) >= Math.max(LEARN.least, (shape + pictures) * LEARN.from) && (complete || off > 0);
    };
    // a shape that was only reckoned to look like another is looked at, lest pictures be blamed for it
    if (isNews()) shape = this.ladder.ownViewLoss(geometry);
    const news = isNews();
    const { silhouette } = this.ladder.predicted(geometry);
    const mostlyShape = pictures < shown / 2;
    this.ladder.learn(geometry, {
      ssimWorst: 1 - Math.max(0, news && mostlyShape ? shown - pictures : shape),
      silhouette: complete ? view.silhouette : Math.max(silhouette, view.silhouette),
    });
    if (!news || mostlyShape) return;
    const by = Math.min(LEARN.factor, Math.max(1 / LEARN.factor, (shown - shape) / pictures));
    this.factor = this.factor.map((f) => f * by);
  }

  /**
   * Measures a combination as a whole, its views only until it is plain that it comes to `most` or more.
   * @param most left out, what something lighter comes to
   */
  private async measure(c: Candidate, most?: (bytes: number) => number): Promise<void> {
    const { geometry } = c;
    const done = this.tried.get(geometry) ?? new Set<string>();
    if (done.has(keyOf(c.pick))) return;
    this.tried.set(geometry, done.add(keyOf(c.pick)));
    this.looks++;
    const bytes = geometry.bytes + picturesBytes(c.pick) + (await this.naming(c.pick));
    const least = most ? most(bytes) : this.found.leastE(bytes);
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
    const complete = view.byLoss.length === this.ref.cameras.length;
    if (bare) this.ladder.learn(geometry, view);
    else this.learn(c, view, complete);
    if (!known && complete) this.order = view.byLoss;
    if (seenTooMuch(view)) return;
    this.ladder.lookWhole(geometry);
    const error = errorWith(geometry, view);
    const e = errorOf(error, this.distanceM);
    if (e < least) this.found.list.push({ ...c, bytes, e, error, rank: rankOf(error, this.distanceM, this.ownLosses(c.pick)) });
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
    const front = pareto(this.found.list, (m) => m.bytes)
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
      await this.measure({ geometry, pick: [], bytes: geometry.bytes, e: 0 }, (bytes) => this.found.lineE(bytes) * PROBE.worth);
      this.tools.progress(0.85 + (0.05 * i) / errors.length, 'looking between');
    }
  }

  /** Finer where the limit falls: between the best within it and the next beyond, and a bit more or less to each number. */
  private async closeIn(): Promise<void> {
    const rounds = this.ladder.small ? 5 : 2;
    for (let round = 0; round < rounds; round++) {
      const best = this.found.best();
      if (!best || !this.limitMatters(best)) return;
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

  /** What is left of the limit goes where most is seen that bytes can help: the worst term, then the next. */
  private async spend(): Promise<void> {
    const limit = this.limits.bytes;
    let best = this.found.best();
    if (limit === null || !best || !this.found.fits(best)) return;
    for (let round = 0, idle = 0; round < this.effort.spending && idle < SPENDING.idle; round++) {
      await this.ladder.addFiner(best.geometry);
      await this.addPictures(best, limit - best.bytes);
      const next = this.richest(limit, best.rank);
      if (next.length === 0) return;
      for (const c of next.slice(0, SPENDING.looks)) await this.measure(c, () => Number.POSITIVE_INFINITY);
      this.tools.progress(0.97 + (0.02 * round) / this.effort.spending, 'using what the limit leaves');
      const now: Measured = this.found.best() ?? best;
      idle = compareRanks(now.rank, best.rank) < 0 ? 0 : idle + 1;
      best = now;
    }
  }

  /** Qualities between, of the pictures that lose most. */
  private async addPictures({ pick }: Candidate, room: number): Promise<void> {
    const lossOf = (i: number) => pick[i].loss * this.choices[i].share * this.factor[i];
    const worst = pick.map((_, i) => i).sort((a, b) => lossOf(b) - lossOf(a));
    // what does not fit beside the others now may, once they are lighter
    for (const i of worst.slice(0, SPENDING.pictures))
      if (lossOf(i) > 0) await addBetween(this.choices[i], pick[i], Math.max(room, pick[i].bytes * SPENDING.more));
  }

  /** Combinations within so many bytes that by prediction show less than `than`, the best first. */
  private richest(limit: number, than: Rank): (Candidate & { rank: Rank })[] {
    const path = assignments(this.choices, this.factor);
    const out: (Candidate & { rank: Rank })[] = [];
    for (const geometry of this.ladder.known()) {
      if (!this.ladder.allows(geometry)) continue;
      const room = limit - geometry.bytes - this.named;
      const from = path.find((t) => t.bytes <= room);
      if (!from) continue;
      const pick = raised(this.choices, from.pick, room);
      if (this.tried.get(geometry)?.has(keyOf(pick))) continue;
      const error = this.ladder.predicted(geometry, this.picturesLoss(pick));
      const rank = rankOf(error, this.distanceM, this.ownLosses(pick));
      const bytes = geometry.bytes + this.named + picturesBytes(pick);
      if (bytes <= limit && compareRanks(rank, than) < 0) out.push({ geometry, pick, bytes, e: errorOf(error, this.distanceM), rank });
    }
    return out.sort((a, b) => compareRanks(a.rank, b.rank) || a.bytes - b.bytes);
  }

  /** What is chosen, and the lightest that is not seen, packed in the other ways that are allowed. */
  private async tryOthers(methods: readonly Packing['method'][]): Promise<void> {
    const worth = this.effort.spending > 1 ? [this.found.best(), this.found.lightestUnseen()] : [this.found.best()];
    for (const m of new Set(worth))
      for (const method of methods) {
        if (!m || method === m.geometry.method) continue;
        const geometry = await this.ladder.packedAs(m.geometry, method);
        if (geometry.bytes < m.geometry.bytes) await this.measure({ ...m, geometry }, () => Number.POSITIVE_INFINITY);
      }
  }

  /** The limit decides what is chosen. */
  private limitMatters(best = this.found.best()): boolean {
    return this.limits.bytes === null || !best || !this.found.fits(best) || best.bytes > this.limits.bytes * PRESSED;
  }
}
