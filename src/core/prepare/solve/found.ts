/** What a search found: measured combinations, weighed against the limits, and the answer that comes of them. */
import type { Document } from '@gltf-transform/core';
import { bytesWithMips } from '../../intake/check/textures';
import type { StepDraft } from '../../piece/recipe';
import { brokenLimits, unmetWords } from '../limits';
import type { Limits, Solution, VisibleError, Weight } from '../terms';
import { weighDocument } from '../weigh';
import { type GeometryOption, simplifyStep } from './geometry';
import { compareRanks, type Rank, rankOf } from './rank';
import type { Assignment, TextureChoices } from './textures';

export interface Candidate {
  geometry: GeometryOption;
  pick: Assignment;
  bytes: number;
  e: number;
}
/** With the bytes of the whole file. */
export interface Measured extends Candidate {
  error: VisibleError;
  rank: Rank;
}

export class Found {
  readonly list: Measured[] = [];
  choices: readonly TextureChoices[] = [];
  /** What the search does not change; and the pictures as they came. */
  private readonly plain: { weight: Weight; sizes: (readonly [number, number])[] };

  constructor(
    base: Document,
    private readonly prefix: readonly StepDraft[],
    private readonly limits: Limits,
    private readonly distanceM: number,
  ) {
    this.plain = {
      weight: weighDocument(base, 0),
      sizes: base
        .getRoot()
        .listTextures()
        .map((t) => t.getSize() ?? [0, 0]),
    };
  }

  /** Least E of what was measured, weighs no more and breaks no limit but that of bytes. */
  leastE(bytes: number): number {
    const able = (m: Measured) => brokenLimits(this.weightOf(m), this.limits).every((k) => k === 'bytes');
    return Math.min(Number.POSITIVE_INFINITY, ...this.list.flatMap((m) => (m.bytes <= bytes && able(m) ? [m.e] : [])));
  }

  /** E of what was measured at so many bytes, log-linear between its best; infinite for fewer than the lightest has. */
  lineE(bytes: number): number {
    const front = pareto(this.list, (m) => m.bytes);
    const k = front.findIndex((m) => m.bytes > bytes);
    if (k === 0 || front.length === 0) return Number.POSITIVE_INFINITY;
    if (k < 0) return front[front.length - 1].e;
    const [a, b] = [front[k - 1], front[k]];
    return a.e * (b.e / a.e) ** (Math.log(bytes / a.bytes) / Math.log(b.bytes / a.bytes));
  }

  weightOf(m: Measured): Weight {
    const texture = (at: number) => {
      const i = this.choices.findIndex((c) => c.at === at);
      return i < 0 ? null : m.pick[i];
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

  readonly fits = (m: Measured): boolean => brokenLimits(this.weightOf(m), this.limits).length === 0;

  /** Least error within the limits; where none is within, the one that breaks fewest and lies nearest. */
  best(): Measured | null {
    const within = this.list.filter(this.fits);
    // without a limit in bytes, lighter is better as long as it is not seen; where one term is, all others still are not
    const free = this.limits.bytes === null;
    const rank = (m: Measured) => (free ? rankOf(m.error, this.distanceM, [], 1) : m.rank);
    if (within.length > 0) return within.reduce((a, b) => ((compareRanks(rank(b), rank(a)) || b.bytes - a.bytes) < 0 ? b : a));
    const broken = (m: Measured) => brokenLimits(this.weightOf(m), this.limits).length;
    return this.list.reduce<Measured | null>(
      (a, b) => (!a || broken(b) < broken(a) || (broken(b) === broken(a) && b.bytes < a.bytes) ? b : a),
      null,
    );
  }

  lightestUnseen(): Measured | null {
    const list = this.list.filter((m) => m.e <= 1 && this.fits(m));
    return list.reduce<Measured | null>((a, b) => (!a || b.bytes < a.bytes ? b : a), null);
  }

  private stepsOf(m: Measured): StepDraft[] {
    const steps: StepDraft[] = [...this.prefix];
    if (m.geometry.errorMm > 0) steps.push(simplifyStep(m.geometry.errorMm));
    const pictures = this.choices.flatMap((c, i) => {
      const { encoding } = m.pick[i];
      return encoding ? [{ texture: c.name, was: c.sha, ...encoding }] : [];
    });
    if (pictures.length > 0) steps.push({ step: 'pictures', settings: { roles: [], textures: pictures } });
    const { method } = m.geometry;
    if (method !== 'none') steps.push({ step: 'reorder', settings: {} });
    if (m.geometry.quantise) steps.push({ step: 'quantise', settings: m.geometry.quantise });
    if (method !== 'none') steps.push({ step: 'compress', settings: { method } });
    return steps;
  }

  /** @param looks how many combinations were measured */
  answer(looks: number): Solution {
    const best = this.best();
    if (!best) return { front: [], chosen: -1, met: false, unmet: ['The model has nothing that could be made lighter.'], measured: 0 };
    const list = pareto(this.list, (m) => m.bytes);
    if (!list.includes(best)) list.push(best);
    list.sort((a, b) => a.bytes - b.bytes || b.e - a.e);
    const met = this.fits(best);
    return {
      front: list.map((m) => ({ bytes: m.bytes, triangles: m.geometry.triangles, e: m.e, error: m.error, steps: this.stepsOf(m) })),
      chosen: list.indexOf(best),
      met,
      unmet: met ? [] : unmetWords(this.weightOf(best), best.geometry.bytes, this.limits),
      measured: looks,
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
