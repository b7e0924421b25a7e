'use client';
import { useTable } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { type KeyboardEvent, type MouseEvent, useEffect, useMemo, useRef, useState } from 'react';
import { showCount, showMegabytes } from '@/core/math';
import { batch, change, partsOf, remove, type StockItem } from '@/core/piece';
/** The files of a piece: sorted by any column, searched, walked through by arrows; as many rows are drawn as are seen. */
import { counted } from '@/core/words/counted';
import { keyOf, useActs } from '../acts';
import { FlagCounts, NameInPlace, openMenuAt } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePiece } from '../piece/context';
import { useChosen } from './choosing';
import { columns, features, RIGHT, rowsOf, WIDTHS } from './filerows';
import { useHangStock } from './hang';

const ROW_PX = 29;
/** With fewer files neither search nor scrolling is of use. */
const FEW = 12;

export function FileTable({ open, onOpen }: { open: string | undefined; onOpen: (id: string) => void }) {
  const doc = useDocument();
  const assets = usePiece((s) => s.assets);
  const undo = usePiece((s) => s.undo);
  const commit = usePiece((s) => s.commit);
  const hang = useHangStock();
  const [naming, setNaming] = useState<string | null>(null);
  const [words, setWords] = useState('');
  const data = useMemo(() => rowsOf(doc, assets), [doc, assets]);
  const table = useTable(
    {
      features,
      columns,
      data,
      getRowId: (r) => r.id,
      globalFilterFn: (row, _column, asked: string) =>
        `${row.original.name} ${row.original.kind}`.toLowerCase().includes(asked.toLowerCase()),
      state: { globalFilter: words },
    },
    (s) => s.sorting,
  );
  const { rows } = table.getRowModel();
  const scroll = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW_PX,
    getItemKey: (i) => rows[i].id,
    overscan: 10,
    initialRect: { width: 460, height: 360 },
  });
  const at = rows.findIndex((r) => r.id === open);
  const scrollTo = virtual.scrollToIndex;
  useEffect(() => {
    if (at >= 0) scrollTo(at, { align: 'auto' });
  }, [at, scrollTo]);
  // a row far off is drawn some time after it was walked to: it has the focus as soon as it is there
  const walkedTo = useRef<string | null>(null);
  useEffect(() => {
    const row = walkedTo.current && scroll.current?.querySelector<HTMLElement>(`[data-file="${walkedTo.current}"]`);
    if (!row) return;
    walkedTo.current = null;
    row.focus();
  });
  const ids = useMemo(() => rows.map((r) => r.id), [rows]);
  const { chosen, press, extend, chooseAll, chooseOne } = useChosen(ids, open, onOpen);
  const item = open ? doc.stock[open] : undefined;
  const worn = (id: string) => partsOf(doc, id).length > 0;
  const free = chosen.filter((id) => !worn(id));
  const deleteAll = (gone: readonly string[]) => {
    if (gone.length === 0 || !commit(batch(gone.map((id) => remove('stock', id))))) return;
    const what = gone.length === 1 ? `${doc.stock[gone[0]].name} is` : `${gone.length} files are`;
    const stay = chosen.length - gone.length;
    const rest = stay > 0 ? ` ${stay === 1 ? 'One stays' : `${stay} stay`}: parts are made of ${stay === 1 ? 'it' : 'them'}.` : '';
    say.message(`${what} deleted.${rest}`, { action: { label: 'Undo', onClick: undo } });
  };
  const held =
    chosen.length === 1 && item
      ? `a part is made of ${item.name}; delete the part in Fit first.`
      : 'parts are made of all of them; delete the parts in Fit first.';
  useActs({
    'rename-file': { run: () => setNaming(open ?? null), off: item ? null : 'choose a file first.' },
    'delete-file': {
      run: () => deleteAll(free),
      off: chosen.length === 0 ? 'choose a file first.' : free.length === 0 ? held : null,
    },
    'choose-files': { run: chooseAll, off: ids.length === 0 ? 'there are no files.' : null },
  });
  const menu = (e: MouseEvent, f: StockItem) => {
    const several = chosen.length > 1 && chosen.includes(f.id);
    if (!several) chooseOne(f.id);
    const gone = several ? free : [f.id].filter((id) => !worn(id));
    openMenuAt(e, several ? `More for ${chosen.length} files` : `More for ${f.name}`, [
      {
        id: 'What can be done',
        entries: [
          ...(several ? [] : [{ id: 'rename', label: 'Rename', hint: keyOf('rename-file'), act: () => setNaming(f.id) }]),
          ...(!several && f.kind === 'model'
            ? [{ id: 'hang', label: 'Hang a part', hint: keyOf('hang-file'), act: () => void hang(f) }]
            : []),
          {
            id: 'delete',
            label: several ? `Delete ${counted(gone.length, 'file')}` : 'Delete',
            hint: keyOf('delete-file'),
            off: gone.length === 0 ? (several ? 'Parts are made of all of them' : 'A part is made of it') : undefined,
            act: () => deleteAll(gone),
          },
        ],
      },
    ]);
  };
  const walk = (e: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, Home: -rows.length, End: rows.length }[e.key];
    if (!by || !(e.target instanceof HTMLElement) || e.target.closest('input')) return;
    e.preventDefault();
    walkedTo.current = e.shiftKey ? extend(by) : (ids[Math.min(ids.length - 1, Math.max(0, at + by))] ?? null);
    if (walkedTo.current && e.shiftKey) scrollTo(ids.indexOf(walkedTo.current), { align: 'auto' });
    else if (walkedTo.current) chooseOne(walkedTo.current);
  };
  const seen = virtual.getVirtualItems();
  const [above, below] = [seen[0]?.start ?? 0, virtual.getTotalSize() - (seen.at(-1)?.end ?? 0)];
  return (
    <div className="sheet overflow-hidden flex-none flex flex-col">
      {data.length > FEW && (
        <input
          type="search"
          className="field h-[28px]! text-small m-1.5 w-auto!"
          aria-label="Search the files"
          placeholder="Search by name or kind"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: arrows of the rows' own buttons */}
      <div ref={scroll} className="overflow-y-auto" style={{ maxHeight: 'min(52vh, 420px)' }} onKeyDown={walk}>
        <table className="ledger" style={{ tableLayout: 'fixed' }} aria-rowcount={rows.length + 1}>
          <thead className="sticky top-0 z-[1] bg-[color:var(--color-base-100)]">
            <tr>
              {table.getHeaderGroups()[0].headers.map(({ id, column }) => {
                const sorted = column.getIsSorted();
                return (
                  <th
                    key={id}
                    className={RIGHT.has(id) ? 'r' : undefined}
                    style={{ width: WIDTHS[id] }}
                    aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : 'none'}
                  >
                    <button
                      type="button"
                      className="cursor-pointer inline-flex items-center gap-0.5"
                      onClick={column.getToggleSortingHandler()}
                    >
                      {String(column.columnDef.header)}
                      {sorted === 'asc' && <ArrowUp className="ico" style={{ width: 11 }} />}
                      {sorted === 'desc' && <ArrowDown className="ico" style={{ width: 11 }} />}
                    </button>
                  </th>
                );
              })}
            </tr>
          </thead>
          <tbody>
            {above > 0 && (
              <tr style={{ height: above }}>
                <td colSpan={5} />
              </tr>
            )}
            {seen.map(({ index }) => {
              const r = rows[index].original;
              return (
                <tr
                  key={r.id}
                  aria-selected={chosen.includes(r.id)}
                  aria-current={open === r.id || undefined}
                  data-beside={(open !== r.id && chosen.includes(r.id)) || undefined}
                  aria-rowindex={index + 2}
                  className="cursor-pointer select-none"
                  style={{ height: ROW_PX }}
                  onClick={(e) => press(e, r.id)}
                  onDoubleClick={() => setNaming(r.id)}
                  onContextMenu={(e) => menu(e, r.item)}
                >
                  <td className="font-medium truncate" title={r.name}>
                    {naming === r.id ? (
                      <NameInPlace
                        label={`Name of ${r.name}`}
                        initial={r.name}
                        className="h-[24px]! px-1!"
                        onDone={(name) => commit(change('stock', r.id, { name }))}
                        onLeave={() => setNaming(null)}
                      />
                    ) : (
                      <button
                        type="button"
                        data-file={r.id}
                        tabIndex={open === r.id || (at < 0 && index === 0) ? 0 : -1}
                        className="cursor-pointer truncate max-w-full align-middle"
                        dir="auto"
                      >
                        {r.name}
                      </button>
                    )}
                  </td>
                  <td className="soft truncate" title={r.kind}>
                    {r.kind}
                  </td>
                  <td className="r">{showMegabytes(r.bytes)}</td>
                  <td className="r" style={r.wrongSize ? { color: 'var(--vermilion)', fontWeight: 600 } : undefined}>
                    {r.widthMm === null ? '—' : showCount(Math.round(r.widthMm))}
                  </td>
                  <td>{r.counts ? <FlagCounts counts={r.counts} /> : <span className="soft">—</span>}</td>
                </tr>
              );
            })}
            {below > 0 && (
              <tr style={{ height: below }}>
                <td colSpan={5} />
              </tr>
            )}
          </tbody>
          <tfoot className="sticky bottom-0 bg-[color:var(--color-base-100)]">
            <tr>
              <td>
                <span className="num">{rows.length}</span>
                {rows.length < data.length && (
                  <>
                    {' '}
                    of <span className="num">{data.length}</span>
                  </>
                )}{' '}
                file{data.length === 1 ? '' : 's'}
                {chosen.length > 1 && (
                  <>
                    , <span className="num">{chosen.length}</span> chosen
                  </>
                )}
              </td>
              <td />
              <td className="r">{showMegabytes(data.reduce((s, r) => s + r.bytes, 0))}</td>
              <td />
              <td />
            </tr>
          </tfoot>
        </table>
      </div>
    </div>
  );
}
