/** Numbered frames: which files are one sequence, in which order, and what is missing. */
import type { Finding } from '../findings';

const collator = /* @__PURE__ */ new Intl.Collator('en', { numeric: true, sensitivity: 'base' });
/** Numbers inside names count as numbers: `f2` before `f10`. */
export const naturalOrder = (a: string, b: string): number => collator.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0);

export interface FrameGroup {
  /** What the names have in common, folder included. */
  stem: string;
  /** Names in order. */
  frames: string[];
  /** Numbers between the first and the last that no file has. */
  gaps: number[];
}

/** Fewer numbered files are no sequence: a pair is as likely a left and a right. */
export const FEWEST_FRAMES = 3;
const MOST_GAPS = 1000;

interface Numbered {
  name: string;
  number: number;
}

/** The sequences among file names: same folder, same words, same ending, counting on. Names in none are left out. */
export function frameGroups(names: readonly string[]): FrameGroup[] {
  const groups = new Map<string, Numbered[]>();
  for (const name of names) {
    // the last number of the name counts; a number before the ending may have words behind it
    const m = /^(.*?)(\d{1,9})(\D*)$/.exec(name.slice(0, name.lastIndexOf('.')));
    if (!m) continue;
    const key = `${m[1]}#${m[3]}${name.slice(name.lastIndexOf('.')).toLowerCase()}`;
    groups.set(key, [...(groups.get(key) ?? []), { name, number: Number(m[2]) }]);
  }
  return [...groups].flatMap(([key, list]): FrameGroup[] => {
    if (list.length < FEWEST_FRAMES) return [];
    list.sort((a, b) => a.number - b.number || naturalOrder(a.name, b.name));
    const step = usualStep(list);
    // sizes of a set (icon-16, icon-32, icon-64) do not count on
    const counting = list.filter((f, i) => i > 0 && f.number - list[i - 1].number === step).length;
    if (step === 0 || counting * 2 < list.length - 1) return [];
    const gaps: number[] = [];
    for (let i = 1; i < list.length; i++)
      for (let n = list[i - 1].number + step; n < list[i].number && gaps.length < MOST_GAPS; n += step) gaps.push(n);
    return [{ stem: key.slice(0, key.indexOf('#')), frames: list.map((f) => f.name), gaps }];
  });
}

/** The difference between neighbours that is seen most often. */
function usualStep(list: readonly Numbered[]): number {
  const seen = new Map<number, number>();
  for (let i = 1; i < list.length; i++) {
    const d = list[i].number - list[i - 1].number;
    seen.set(d, (seen.get(d) ?? 0) + 1);
  }
  return [...seen].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? 0;
}

export function gapFindings(gaps: readonly number[], oddSizes: readonly string[]): Finding[] {
  const out: Finding[] = [];
  if (gaps.length > 0)
    out.push({
      code: 'sequence/gap',
      level: 'warning',
      message: `${gaps.length === 1 ? 'A frame is' : `${gaps.length} frames are`} missing: number ${gaps.slice(0, 8).join(', ')}${gaps.length > 8 ? ' …' : ''}. It plays on without ${gaps.length === 1 ? 'it' : 'them'}.`,
    });
  if (oddSizes.length > 0)
    out.push({
      code: 'sequence/size',
      level: 'warning',
      message: `${oddSizes.length} frame${oddSizes.length === 1 ? ' has' : 's have'} another size than the first: ${oddSizes.slice(0, 4).join(', ')}. They are placed at its upper left.`,
    });
  return out;
}
