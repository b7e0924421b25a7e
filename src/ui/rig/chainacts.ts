/** What can be done to one chain, each act as the settings that it leads to. */
import type { RecipeStep } from '@/core/piece';
import { MOST_BONES, type SparChain, type Vec } from '@/core/rig';

export type ChainsSettings = Extract<RecipeStep, { step: 'chains' }>['settings'];
type Change = ChainsSettings['changes'][string];

export const CHAINS_EVERYWHERE = { chains: 'all', more: [], changes: {} } as const satisfies Omit<ChainsSettings, 'weights'>;

/** A chain as it was found: those of a file from before that was written go by the names of their bones. */
export const foundOf = (c: SparChain) => c.found ?? { name: c.name, joint: 0 };
const partsOf = (chains: readonly SparChain[], c: SparChain) => chains.filter((o) => foundOf(o).name === foundOf(c).name);
/** Bones of a chain with all its parts. */
export const bonesOf = (chains: readonly SparChain[], c: SparChain) => partsOf(chains, c).reduce((n, o) => n + o.spars.length, 0);

/** The settings with a chain changed; what is undefined is as it was found. */
export function changed(s: ChainsSettings, found: string, change: Change): ChainsSettings {
  const all = { ...s.changes[found], ...change };
  const kept = Object.fromEntries(Object.entries(all).filter(([, v]) => v !== undefined));
  const { [found]: _, ...others } = s.changes;
  return { ...s, changes: Object.keys(kept).length > 0 ? { ...others, [found]: kept } : others };
}

/** Names as pressed chains are found under. */
const isPressed = (name: string) => (p: { name: string | null }, i: number) => (p.name ?? `limb ${i + 1}`) === name;

/** null: no chain is left. */
export function strike(s: ChainsSettings, chains: readonly SparChain[], c: SparChain): ChainsSettings | null {
  const { name } = foundOf(c);
  if (partsOf(chains, c).length === chains.length) return null;
  if (s.chains !== 'all') {
    const left = s.chains.filter((p, i) => !isPressed(name)(p, i));
    if (left.length < s.chains.length) return left.length > 0 ? changed({ ...s, chains: left }, name, gone(s, name)) : null;
  }
  if (s.more.some((p) => p.name === name)) return changed({ ...s, more: s.more.filter((p) => p.name !== name) }, name, gone(s, name));
  return changed(s, name, { struck: true });
}
const gone = (s: ChainsSettings, name: string): Change =>
  Object.fromEntries(Object.keys(s.changes[name] ?? {}).map((k) => [k, undefined])) as Change;

export const moreBones = (s: ChainsSettings, chains: readonly SparChain[], c: SparChain, by: number) =>
  changed(s, foundOf(c).name, {
    bones: Math.min(MOST_BONES, Math.max(1, bonesOf(chains, c) + by)),
    // those stood where the old ones did
    jointsM: undefined,
  });

export const reverse = (s: ChainsSettings, c: SparChain) => {
  const { name } = foundOf(c);
  return changed(s, name, { reversed: s.changes[name]?.reversed ? undefined : true, jointsM: undefined, cuts: undefined });
};

/** @param joint of this chain's own, 1 is the end of its first bone */
export const part = (s: ChainsSettings, c: SparChain, joint: number) => {
  const { name, joint: first } = foundOf(c);
  return changed(s, name, { cuts: [...new Set([...(s.changes[name]?.cuts ?? []), first + joint])].sort((a, b) => a - b) });
};

/** What was parted or joined, as it was found; null where nothing was. */
export function whole(s: ChainsSettings, c: SparChain): ChainsSettings | null {
  const { name } = foundOf(c);
  const { cuts, goesOn } = s.changes[name] ?? {};
  return cuts?.length || goesOn?.length
    ? changed(s, name, { cuts: undefined, goesOn: undefined, bones: undefined, jointsM: undefined })
    : null;
}

export const goOn = (s: ChainsSettings, c: SparChain, next: SparChain) => {
  const { name } = foundOf(c);
  const before = s.changes[name]?.goesOn ?? [];
  return changed(s, name, { goesOn: [...before, foundOf(next).name], bones: undefined, jointsM: undefined, cuts: undefined });
};

export const hangFrom = (s: ChainsSettings, c: SparChain, from: SparChain | null) =>
  changed(s, foundOf(c).name, { from: from && foundOf(from).name });

export const rename = (s: ChainsSettings, c: SparChain, name: string) => {
  const found = foundOf(c).name;
  return changed(s, found, { name: name === found ? undefined : name });
};

/** @param joint of this chain's own; its number of bones is its tip */
export const moveJoint = (s: ChainsSettings, c: SparChain, joint: number, to: Vec) => {
  const { name, joint: first } = foundOf(c);
  return changed(s, name, { jointsM: { ...s.changes[name]?.jointsM, [first + joint]: to } });
};

/** `frond {n}{side}`: a number each, twins the same one; what is not in the pattern and is needed comes behind. */
export function namesByPattern(found: readonly string[], pattern: string): string[] {
  const SIDE = /\.[LR]$/;
  const sides = found.map((f) => SIDE.exec(f)?.[0] ?? '');
  const numbers = new Map<string, number>();
  for (const f of found) numbers.set(f.replace(SIDE, ''), numbers.get(f.replace(SIDE, '')) ?? numbers.size + 1);
  const several = numbers.size > 1 && !pattern.includes('{n}') ? `${pattern.trim()} {n}` : pattern.trim();
  const sided = sides.some((s) => s) && !several.includes('{side}') ? `${several}{side}` : several;
  return found.map((f, i) => sided.replaceAll('{n}', String(numbers.get(f.replace(SIDE, '')))).replaceAll('{side}', sides[i]));
}

export function renameAll(s: ChainsSettings, chains: readonly SparChain[], pattern: string): ChainsSettings {
  const found = [...new Set(chains.map((c) => foundOf(c).name))];
  return namesByPattern(found, pattern).reduce((all, name, i) => changed(all, found[i], { name: name.slice(0, 100) }), s);
}

/** Found chains that were struck and could come back. */
export const struckOf = (s: ChainsSettings) => Object.keys(s.changes).filter((k) => s.changes[k].struck);
