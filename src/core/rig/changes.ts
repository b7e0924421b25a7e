/** Chains changed by hand after they were found: turned round, joined, hung elsewhere, struck, called otherwise. */
import type { Home } from './bone';
import type { MiddleLine, Vec } from './middle';

/** What is other than found. Chains are spoken of by the names they were found under, whatever they are called now. */
export interface ChainChange {
  bones?: number;
  name?: string;
  struck?: boolean;
  /** Its root where its tip was. */
  reversed?: boolean;
  /** The chain it hangs from; null: the root. */
  from?: string | null;
  /** Chains that go on, one after the other, where its tip is: one line with it. */
  goesOn?: string[];
  /** Joints at which another chain begins: 1 is the end of the first bone. */
  cuts?: number[];
  /** Joints put elsewhere, metres of the model: 0 is the root. */
  jointsM?: Record<string, Vec>;
}
export type ChainChanges = Readonly<Record<string, ChainChange>>;

export interface LaidChain {
  /** The name it was found under. */
  key: string;
  line: MiddleLine;
  /** Place of the chain it hangs from; −1: the root. */
  from: number;
  /** null: as many as the line asks for. */
  bones: number | null;
}

const turned = (line: MiddleLine): MiddleLine => ({ ...line, points: [...line.points].reverse(), radii: [...line.radii].reverse() });

/** Two lines as one, with the way from the end of the first to the beginning of the second. */
function joined(a: MiddleLine, b: MiddleLine): MiddleLine {
  const [from, to] = [a.points[a.points.length - 1], b.points[0]];
  const gap = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
  return { points: [...a.points, ...b.points], radii: [...a.radii, ...b.radii], lengthM: a.lengthM + gap + b.lengthM };
}

/**
 * What becomes of found chains, and of what belongs to each. A name that no chain has is passed over: the shape may be another by now.
 * What belonged to a struck chain belongs to the one it hung from. No chain hangs from itself: who would close a ring hangs from the root.
 */
export function changeChains(found: readonly LaidChain[], home: Home, changes: ChainChanges): { chains: LaidChain[]; home: Home } {
  const at = new Map(found.map((c, i) => [c.key, i]));
  const changeOf = (i: number): ChainChange => changes[found[i].key] ?? {};
  const lines = found.map((c, i) => (changeOf(i).reversed ? turned(c.line) : c.line));
  /** Chain that a chain has become part of; its own place: it stands. */
  const into = found.map((_, i) => i);
  const rootOf = (i: number): number => (i < 0 || into[i] === i ? i : rootOf(into[i]));
  found.forEach((_, i) => {
    if (changeOf(i).struck) return;
    for (const name of changeOf(i).goesOn ?? []) {
      const next = at.get(name);
      if (next === undefined || into[next] !== next || rootOf(i) === next || changeOf(next).struck) continue;
      const first = rootOf(i);
      lines[first] = joined(lines[first], lines[next]);
      into[next] = first;
    }
  });
  const from = found.map((c, i) => {
    const asked = changeOf(i).from;
    return asked === undefined ? c.from : asked === null ? -1 : (at.get(asked) ?? c.from);
  });
  // up from a struck one to what it hung from
  found.forEach((_, i) => {
    if (into[i] === i && changeOf(i).struck) into[i] = from[i] === i ? -1 : from[i];
  });
  const standing = (i: number, seen = new Set<number>()): number => {
    if (i < 0 || seen.has(i)) return -1;
    return into[i] === i ? i : standing(into[i], seen.add(i));
  };
  const kept = found.flatMap((_, i) => (into[i] === i ? [i] : []));
  const place = new Map(kept.map((i, k) => [i, k]));
  const up = kept.map((i) => place.get(standing(from[i])) ?? -1);
  up.forEach((_, i) => {
    let p = up[i];
    for (let steps = 0; p >= 0 && p !== i && steps < up.length; steps++) p = up[p];
    if (p >= 0) up[i] = -1;
  });
  return {
    chains: kept.map((i, k) => ({ key: found[i].key, line: lines[i], from: up[k], bones: changeOf(i).bones ?? found[i].bones })),
    home: home.map((h) => (h < 0 ? -1 : (place.get(standing(h)) ?? -1))),
  };
}
