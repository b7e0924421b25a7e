/** What each wearer of the cast is told of a part in each pose: a table to choose from, and the same as a file. */

import { cuts, LEAKS } from '@/core/fit/judge';
import type { Pose } from '@/core/form';
import { type Wearer, wearerWords } from '@/core/piece';
import { capital } from '@/core/words/counted';
import type { ToldCell } from '@/worker/browser';
import { Flag } from '../../kit';
import { clearanceWords } from '../clearance';

export interface CastCell {
  pose: Pose;
  wearer: Wearer;
  /** null: it is not there, or has no surface. */
  told: ToldCell | null;
}
export interface CastRow {
  pose: Pose;
  cells: CastCell[];
}

export const TOLD = [
  { value: 'clearance', label: 'Clearance', title: 'How deep it cuts, mm; with a minus, free by so much' },
  { value: 'leak', label: 'Leaks', title: 'Of what is seen of it, the share that a wearer would hide' },
  { value: 'swallowed', label: 'Swallowed', title: 'Of what should be seen of it, the share that occluders hide' },
] as const;
export type Told = (typeof TOLD)[number]['value'];

/** What a cell says: to sort by, as written, and whether it is a fault. */
function sayCell(told: ToldCell, what: Told): { value: number; text: string; wrong: boolean } | null {
  if (what === 'clearance') return { value: told.clearance.deepestMm, text: told.clearance.deepestMm.toFixed(1), wrong: cuts(told) };
  if (!told.leaks) return null;
  const share = told.leaks[what];
  return { value: share, text: (share * 100).toFixed(1), wrong: share > LEAKS };
}

/** What is worst is looked at first. */
export function worstOf(rows: readonly CastRow[], what: Told): CastCell {
  const value = ({ told }: CastCell) => (told ? sayCell(told, what)?.value : undefined) ?? -Infinity;
  return rows.flatMap((r) => r.cells).reduce((a, b) => (value(b) > value(a) ? b : a));
}

export function CastMatrix({
  rows,
  what,
  chosen,
  onChoose,
}: {
  rows: readonly CastRow[];
  what: Told;
  chosen: Pick<CastCell, 'pose' | 'wearer'> | null;
  onChoose: (cell: CastCell) => void;
}) {
  const worst = worstOf(rows, what);
  return (
    <table className="w-full mt-2" aria-label="Over the cast">
      <thead>
        <tr className="soft text-micro">
          <th className="font-normal text-left">Pose</th>
          {rows[0]?.cells.map(({ wearer }) => (
            <th key={wearer.key} className="font-normal text-right">
              {wearerWords(wearer)}, {what === 'clearance' ? 'mm' : '%'}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ pose, cells }) => (
          <tr key={pose.id} className="border-t border-[color:var(--hair)]">
            <th className="font-normal text-left py-[2px]">{pose.label}</th>
            {cells.map((cell) => (
              <td key={cell.wearer.key} className="text-right">
                <CellButton
                  cell={cell}
                  what={what}
                  pressed={chosen?.pose === pose && chosen.wearer.key === cell.wearer.key}
                  worst={cell === worst}
                  onChoose={onChoose}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function CellButton({
  cell,
  what,
  pressed,
  worst,
  onChoose,
}: {
  cell: CastCell;
  what: Told;
  pressed: boolean;
  worst: boolean;
  onChoose: (cell: CastCell) => void;
}) {
  const { told, wearer, pose } = cell;
  const said = told && sayCell(told, what);
  if (!said) return <span className="soft">–</span>;
  return (
    <button
      type="button"
      className="link num inline-flex items-center justify-end gap-1 min-h-[26px]"
      aria-pressed={pressed}
      aria-label={`${capital(wearerWords(wearer))}, ${pose.label}: ${what === 'clearance' ? clearanceWords(told) : `${said.text} %`}`}
      style={worst ? { fontWeight: 600 } : undefined}
      onClick={() => onChoose(cell)}
    >
      {said.wrong && <Flag kind="warning" size={12} />}
      {said.text}
    </button>
  );
}

const quoted = (name: string) => (/[",\s]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name);

/** One line a cell, numbers as measured (RFC 4180). */
export function castCsv(rows: readonly CastRow[]): string {
  const head = 'pose,form,deepest cut mm (minus: free by),share cut,mean gap at contacts mm,share leaking,share swallowed';
  const lines = rows.flatMap(({ pose, cells }) =>
    cells.map(({ wearer, told }) => {
      const c = told?.clearance;
      const of = [c?.deepestMm, c?.cutShare, c?.meanGapMm, told?.leaks?.leak, told?.leaks?.swallowed];
      return [`"${pose.label}"`, quoted(wearer.name), ...of.map((x) => (x === undefined || x === null ? '' : x.toFixed(4)))].join(',');
    }),
  );
  return [head, ...lines, ''].join('\r\n');
}
