'use client';
import { licencePermits, OWN_WORK } from '@/core/intake';
import { batch, change, type StockItem } from '@/core/piece';
import { Flag } from '../kit';
import { useDocument, usePiece } from '../piece/context';

interface Source {
  author: string;
  licence: string;
  files: StockItem[];
}

function bySource(files: readonly StockItem[]): Source[] {
  const out = new Map<string, Source>();
  for (const f of files) {
    const { author, licence } = f.credit;
    const key = licence === '' ? '' : `${licence} ${author}`;
    const s = out.get(key) ?? { author: licence === '' ? '' : author, licence, files: [] };
    s.files.push(f);
    out.set(key, s);
  }
  return [...out.values()];
}

function permits(s: Source): ['done' | 'warning' | 'note', string] {
  if (s.licence === '') return ['warning', 'Cannot be delivered'];
  const p = licencePermits(s.licence);
  if (!p) return ['note', 'Read its licence'];
  if (!p.change || !p.sell) return ['note', p.change ? 'Not for sale' : 'No changes'];
  return p.credit ? ['note', 'Credit is required'] : ['done', 'No credit needed'];
}

/** Files by whose they are; those nobody has spoken for can be said to be own work in one press. */
export function Sources() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const list = bySource(Object.values(doc.stock));
  return (
    <section className="sheet px-3 pt-2 pb-1 text-small" aria-label="Where these files came from">
      <header className="flex items-baseline justify-between pb-1 rule-b">
        <h3 className="text-[13px] font-semibold">Where these files came from</h3>
        <span className="text-micro soft">used by Deliver for credits</span>
      </header>
      {list.map((s) => {
        const [flag, words] = permits(s);
        return (
          <div
            key={`${s.licence} ${s.author}`}
            className="finding"
            style={{ gridTemplateColumns: 'minmax(0,1fr) 110px 130px 18px', alignItems: 'center' }}
          >
            <span className="truncate font-medium">
              {s.licence === '' ? 'Unknown' : s.licence === OWN_WORK ? s.author || 'Own work' : `${s.author || 'Unnamed'}, ${s.licence}`}
            </span>
            <span className="soft truncate" title={s.files.map((f) => f.name).join(', ')}>
              {s.files.length === 1 ? s.files[0].name : `${s.files.length} files`}
            </span>
            {s.licence === '' ? (
              <button
                type="button"
                className="fix"
                onClick={() => commit(batch(s.files.map((f) => change('stock', f.id, { credit: { ...f.credit, licence: OWN_WORK } }))))}
              >
                All own work
              </button>
            ) : (
              <span className="soft">{words}</span>
            )}
            <Flag kind={flag} size={15} />
          </div>
        );
      })}
    </section>
  );
}
