/** What a fit sheet says: numbers under the pictures, and where the trouble starts. */
import { MEASURE_LABELS } from '../../form/labels';
import { capital, counted, ordinal } from '../../words/counted';
import { CUTS_MM, cuts, isWrong, type Judged, LEAKS, leaks } from '../judge';
import type { Starts } from '../starts';
import type { SheetAsked, SheetCell } from './layout';

export interface CastTold {
  /** As they are called: “form M”, “Tall Ines”. */
  wearers: readonly string[];
  poses: readonly string[];
  /** By pose, then by wearer; null: it is not there. `where`: beside the deepest place. */
  cells: readonly (readonly (ToldHere | null)[])[];
  /** Between a wearer on whom nothing is wrong and one on whom something is. */
  starts: (Starts & { from: string; to: string }) | null;
}
export interface ToldHere extends Judged {
  where?: string | null;
}

const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

function linesOf(told: ToldHere): SheetCell['lines'] {
  const { deepestMm } = told.clearance;
  const out = [
    {
      text: deepestMm > 0 ? `cuts in ${deepestMm.toFixed(1)}` : deepestMm < -100 ? 'nowhere near' : `free by ${(-deepestMm).toFixed(1)}`,
      wrong: cuts(told),
    },
  ];
  if (!told.leaks) return out;
  const { leak, swallowed } = told.leaks;
  const said = [leak > 0 ? `leaks ${percent(leak)}` : '', swallowed > 0 ? `swallowed ${percent(swallowed)}` : ''].filter(Boolean);
  return [...out, { text: said.join(', ') || 'leaks nothing', wrong: leaks(told) }];
}

interface Place {
  row: number;
  column: number;
}
function most({ cells }: CastTold, value: (told: ToldHere) => number): Place | null {
  let best: (Place & { value: number }) | null = null;
  for (const [row, of] of cells.entries())
    for (const [column, told] of of.entries()) {
      const v = told ? value(told) : Number.NEGATIVE_INFINITY;
      if (v > (best?.value ?? Number.NEGATIVE_INFINITY)) best = { row, column, value: v };
    }
  return best && { row: best.row, column: best.column };
}

/** The cell that is looked at first: the deepest cut; where none cuts, the greatest leak. null: nothing is wrong. */
export function worstPlace(told: CastTold): Place | null {
  const all = told.cells.flat().filter((t) => t !== null);
  if (all.some(cuts)) return most(told, (t) => t.clearance.deepestMm);
  if (all.some(leaks)) return most(told, (t) => Math.max(t.leaks?.leak ?? 0, t.leaks?.swallowed ?? 0));
  return null;
}

/** Whole sentences: what is worst, and from whom on. */
export function sentencesOf(told: CastTold): string[] {
  const { wearers, poses, cells, starts } = told;
  const all = cells.flat().filter((t) => t !== null);
  if (all.length === 0) return ['The part is on nobody: there is nothing to measure.'];
  const on = `on ${counted(wearers.length, 'wearer')} in ${counted(poses.length, 'pose')}`;
  const worst = worstPlace(told);
  if (!worst) return [`Nothing cuts in by more than ${CUTS_MM} mm and no more than ${percent(LEAKS)} leaks, ${on}.`];
  const cell = cells[worst.row][worst.column] as ToldHere;
  const at = `${wearers[worst.column]}, ${poses[worst.row].toLowerCase()}`;
  const out = [
    cuts(cell)
      ? `It cuts in deepest on ${at}: ${cell.clearance.deepestMm.toFixed(1)} mm${cell.where ? `, ${cell.where}` : ''}.`
      : `It leaks most on ${at}: ${linesOf(cell)[1].text}.`,
  ];
  const faulty = wearers.filter((_, c) => cells.some((row) => row[c] && isWrong(row[c])));
  if (faulty.length === wearers.length) out.push(...(wearers.length > 1 ? ['Something is wrong on every wearer of the cast.'] : []));
  else if (starts)
    out.push(
      `From the ${ordinal(starts.share)} percentile of ${MEASURE_LABELS[starts.measure].toLowerCase()} ${starts.upwards ? 'on' : 'down'} (${starts.mm.toFixed(1)} mm) something is wrong, as heads ${starts.upwards ? 'grow' : 'shrink'} from ${starts.from} to ${starts.to}.`,
    );
  else out.push(`Something is wrong on ${faulty.join(', ')}; nothing on the others.`);
  return out;
}

export function sheetOf(title: string, part: string, told: CastTold): SheetAsked {
  return {
    title,
    subtitle: part === title ? 'Clearance and leaks' : `${part}: clearance and leaks`,
    sentences: sentencesOf(told),
    columns: told.wearers.map(capital),
    rows: told.poses.map((label, r) => ({ label, cells: told.cells[r].map((c) => c && { lines: linesOf(c) }) })),
    worst: worstPlace(told),
  };
}
