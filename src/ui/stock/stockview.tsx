'use client';
import { FolderOpen } from 'lucide-react';
import { useEffect } from 'react';
import { IMPORTERS, INTAKE_LIMITS } from '@/core/intake';
import { Flag, lazily, Panes, soon } from '../kit';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { useOpenFile } from '../piece/openfile';
import { forgetSending, goOn, useArrivals } from './arrivals';
import { Sources } from './sources';
import { EnvironmentMenu, TakeAwayMenu } from './takeaway';
import { takeAnswer } from './taking';
import { useFilesZone } from './zone';

const FileTable = soon(() => import('./filetable'), 'FileTable');
const Arrival = soon(() => import('./arrival'), 'Arrival');
const MediaSheet = lazily(() => import('./mediasheet'), 'MediaSheet');

/** The drop zone lists exactly what the importer registry accepts. */
const ACCEPTED = IMPORTERS.map((i) => i.label).join(', ');
const EXTENSIONS = IMPORTERS.flatMap((i) => i.extensions)
  .map((e) => e.slice(1))
  .join(', ');

export function StockView() {
  const doc = useDocument();
  const store = usePieceStore();
  const id = usePiece((s) => s.id);
  const { file: selected, choose } = useOpenFile();
  const files = Object.values(doc.stock);
  // what an earlier visit left half sent
  useEffect(() => void goOn(id, (answer) => takeAnswer(store, choose, answer)), [id, store, choose]);
  const { over, choose: chooseFiles, take } = useFilesZone();
  return (
    <div className="split">
      <Panes
        id="stock"
        start={486}
        least={340}
        most={760}
        label="Width of the list of files"
        first={
          <section
            className="split-list flex flex-col min-h-0 overflow-y-auto px-3 pt-2.5 pb-3 gap-3 border-r border-[color:var(--hair-strong)]"
            aria-label="Stock"
          >
            <div className="flex items-center justify-between">
              <h2 className="text-[15px] font-semibold">Stock</h2>
              <div className="flex gap-1.5">
                <EnvironmentMenu onMade={(file) => take([file])} />
                <TakeAwayMenu />
                <button type="button" className="btn btn-line btn-sm" onClick={chooseFiles}>
                  <FolderOpen className="ico" />
                  Choose files
                </button>
              </div>
            </div>
            <section
              className={`water relative border border-dashed border-[color:var(--water-line)] flex items-center gap-4 px-5 py-4 ${over ? 'indexed' : ''}`}
              aria-label="Drop files here"
            >
              <svg
                width="84"
                height="58"
                viewBox="0 0 84 58"
                aria-hidden="true"
                fill="none"
                stroke="var(--ink)"
                strokeWidth="1.3"
                className="flex-none"
              >
                <path d="M58 2v20M58 2H26l32 12" />
                <path d="M30 3v22" strokeDasharray="2 2" />
                <path d="M22 25h16v11H22Z" fill="var(--brass-wash)" stroke="var(--brass)" />
                <path d="M22 29h16" stroke="var(--brass)" />
                <path d="M3 44c14 4 60 4 78-1-3 7-6 12-12 12H17C10 55 6 50 3 44Z" fill="var(--hull)" stroke="none" />
              </svg>
              <div>
                <p className="text-[15px] font-semibold leading-5">{over ? 'Let go to bring them in' : 'Drop files here'}</p>
                <p className="text-small soft">
                  Models, pictures, sequences, sounds, environments, clips, films; folders and zips of them.
                </p>
                <p className="text-micro soft mt-1" data-accepts={EXTENSIONS} title={ACCEPTED}>
                  {EXTENSIONS}. Up to <span className="num">{INTAKE_LIMITS.fileBytes / 1e6}</span> MB each.
                </p>
              </div>
            </section>
            {files.length > 0 && <FileTable open={selected?.id} onOpen={choose} />}
            <Arriving />
            {files.length > 0 && <Sources />}
          </section>
        }
        second={
          <section className="flex-1 min-w-0 min-h-0" aria-label="Arrival sheet">
            {selected ? (
              selected.kind === 'model' ? (
                <Arrival key={selected.id} item={selected} />
              ) : (
                <MediaSheet key={selected.id} item={selected} />
              )
            ) : (
              <div className="p-3 h-full">
                <div className="empty h-full text-small">
                  Nothing is in Stock yet. Drop a model on the sheet beside this: its true size, contents and findings will stand here.
                </div>
              </div>
            )}
          </section>
        }
      />
    </div>
  );
}

const STATES = { sending: 'sending', reading: 'reading' };

function Arriving() {
  const list = useArrivals((s) => s.list);
  const dismiss = useArrivals((s) => s.dismiss);
  if (list.length === 0) return null;
  return (
    <div className="sheet px-3 pt-2 pb-1 text-small" role="status" aria-label="Arriving">
      <h3 className="text-[13px] font-semibold pb-1 rule-b">Arriving</h3>
      {list.map((a) =>
        a.state === 'failed' ? (
          <div key={a.id} className="finding" style={{ gridTemplateColumns: '16px minmax(0,1fr) auto', alignItems: 'center' }} role="alert">
            <Flag kind="blocker" size={15} />
            <span className="break-words">
              <b className="font-semibold">{a.name}</b> was not brought in. {a.error}
            </span>
            <span className="flex gap-1.5">
              {a.again && (
                <button type="button" className="fix" onClick={a.again}>
                  Try again
                </button>
              )}
              <button
                type="button"
                className="fix"
                onClick={() => {
                  dismiss(a.id);
                  forgetSending(a.id);
                }}
              >
                Discard
              </button>
            </span>
          </div>
        ) : (
          <div
            key={a.id}
            className="finding"
            style={{ gridTemplateColumns: 'minmax(0,1fr) 110px minmax(84px,auto) auto', alignItems: 'center' }}
          >
            <span className="font-medium truncate">{a.name}</span>
            <span className="busy gaugebar">
              <i style={{ width: `${Math.round(a.share * 100)}%` }} />
            </span>
            <span className="soft">
              <span className="num">{Math.round(a.share * 100)}</span> %,{' '}
              {a.state === 'waiting' ? `${a.why}; tried again` : STATES[a.state]}
            </span>
            <button type="button" className="fix" onClick={a.stop}>
              Stop
            </button>
          </div>
        ),
      )}
    </div>
  );
}
