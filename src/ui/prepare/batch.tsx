'use client';
import { useState } from 'react';
import { api, type BatchRow, type JobAnswer, type JobTarget } from '@/api';
import { PROFILES } from '@/core/deliver';
import { showBytes, showBytesFinely, showCount } from '@/core/math';
import type { ModelItem, RecipeStep } from '@/core/piece';
/** Many models as one job: which, by what, and a table of what came of each. */
import { counted } from '@/core/words/counted';
import { Dialog } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePiece, usePieceStore } from '../piece/context';
import { keepMany } from '../stock/mending';
import { useWork } from '../stock/work';
import { JobLine } from './joblines';
import { isOpen } from './jobs';
import { useRecipes } from './recipes';
import { asStep, portable } from './steps';

const targetOf = (m: ModelItem): JobTarget => ({ stock: m.id, original: m.original, model: m.model, name: m.name, kind: m.stated });

export function BatchDialog({
  models,
  steps,
  job,
  onClose,
}: {
  models: readonly ModelItem[];
  /** Of the model that is open. */
  steps: readonly RecipeStep[];
  /** The newest of its kind. */
  job: JobAnswer | undefined;
  onClose: () => void;
}) {
  const doc = useDocument();
  const piece = usePiece((s) => s.id);
  const yard = usePiece((s) => s.yard.id);
  const { data: kept = [] } = useRecipes(yard);
  const [chosen, setChosen] = useState<readonly string[]>(models.map((m) => m.id));
  const [by, setBy] = useState('profile');
  const profile = PROFILES[doc.settings.profile];
  const own = portable(steps);
  const busy = job !== undefined && isOpen(job);
  const begin = () => {
    const named = by === 'own' ? own : kept.find((r) => r.id === by)?.steps;
    const targets = models.filter((m) => chosen.includes(m.id)).map(targetOf);
    const request = {
      targets,
      steps: (named ?? []).map((s) => ({ ...asStep(s), on: s.on })),
      limits: by === 'profile' ? profile.limits : null,
    };
    return api.addJob(piece, { job: 'batch', ...request }).catch((e: Error) => say.error(e.message));
  };
  const result = job?.result?.job === 'batch' ? job.result : null;
  return (
    <Dialog title="Prepare many models" onClose={onClose} wide>
      <div className="grid gap-4" style={{ gridTemplateColumns: '250px minmax(0,1fr)' }}>
        <div className="text-small">
          <label className="block pb-3">
            <span className="font-medium block mb-1">By</span>
            <select className="field h-[28px]! text-small" value={by} onChange={(e) => setBy(e.target.value)}>
              <option value="profile">
                the limits of {profile.label}, {showBytes(profile.bytes)}
              </option>
              {own.length > 0 && <option value="own">the recipe that stands in the table</option>}
              {kept.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.name}
                </option>
              ))}
            </select>
          </label>
          <fieldset>
            <legend className="font-medium mb-1">Models</legend>
            <div className="max-h-[230px] overflow-y-auto grid gap-1.5">
              {models.map((m) => (
                <label key={m.id} className="flex items-center gap-2 cursor-pointer min-w-0">
                  <input
                    type="checkbox"
                    className="check"
                    checked={chosen.includes(m.id)}
                    onChange={(e) => setChosen(e.target.checked ? [...chosen, m.id] : chosen.filter((x) => x !== m.id))}
                  />
                  <span className="truncate" title={m.name}>
                    {m.name}
                  </span>
                </label>
              ))}
            </div>
          </fieldset>
          <button
            type="button"
            className="btn btn-primary btn-sm mt-4"
            aria-disabled={busy || chosen.length === 0}
            title={busy ? 'It is at work already' : chosen.length === 0 ? 'Choose a model first' : undefined}
            onClick={() => !busy && chosen.length > 0 && void begin()}
          >
            Prepare {counted(chosen.length, 'model')}
          </button>
        </div>
        <div className="min-w-0 min-h-[280px] flex flex-col gap-2">
          {busy && <JobLine job={job} piece={piece} wide />}
          {job?.state === 'failed' && (
            <p className="text-small" style={{ color: 'var(--vermilion)' }} role="alert">
              {job.error?.message}
            </p>
          )}
          {result ? (
            <Results rows={result.rows} onClose={onClose} />
          ) : (
            !busy && (
              <div className="empty flex-1 text-small">
                <span>What came of each stands here: its size before and after, its visible error, and whether the limits are met.</span>
              </div>
            )
          )}
        </div>
      </div>
    </Dialog>
  );
}

const sayRow = (r: BatchRow) => r.failed ?? (r.met ? 'met' : r.unmet.join(' '));

function Results({ rows, onClose }: { rows: readonly BatchRow[]; onClose: () => void }) {
  const store = usePieceStore();
  const doc = useDocument();
  const { busy, work } = useWork();
  // a model that is gone, or has another file by now, is no use to keep
  const fit = rows.filter((r) => r.asset && r.steps.length > 0 && doc.stock[r.stock]?.original === r.asset.original);
  const sum = (key: 'before' | 'after') => rows.reduce((s, r) => s + (r[key]?.bytes ?? 0), 0);
  return (
    <>
      <div className="flex-1 min-h-0 max-h-[300px] overflow-y-auto">
        <table className="ledger" aria-label="Results">
          <thead>
            <tr>
              <th>Model</th>
              <th className="r">Before</th>
              <th className="r">After</th>
              <th className="r">Triangles</th>
              <th className="r">E</th>
              <th>Limits</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.stock}>
                <td className="max-w-[150px] truncate" title={r.name}>
                  {r.name}
                </td>
                <td className="r">{r.before ? showBytesFinely(r.before.bytes) : '–'}</td>
                <td className="r">{r.after ? showBytesFinely(r.after.bytes) : '–'}</td>
                <td className="r">{r.after ? showCount(r.after.triangles) : '–'}</td>
                <td className="r">{r.e === null ? '–' : r.e.toFixed(2)}</td>
                <td className="max-w-[150px] truncate" title={sayRow(r)} style={r.met ? undefined : { color: 'var(--vermilion)' }}>
                  {sayRow(r)}
                </td>
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr>
              <td>All</td>
              <td className="r">{showBytesFinely(sum('before'))}</td>
              <td className="r">{showBytesFinely(sum('after'))}</td>
              <td />
              <td />
              <td />
            </tr>
          </tfoot>
        </table>
      </div>
      <div className="flex justify-end">
        <button
          type="button"
          className="btn btn-line btn-sm"
          aria-disabled={busy || fit.length === 0}
          onClick={() =>
            fit.length > 0 &&
            work(async () => {
              keepMany(
                store.getState,
                fit.flatMap((r) => (r.asset ? [{ stock: r.stock, steps: r.steps, asset: r.asset }] : [])),
              );
              onClose();
            })
          }
        >
          Keep {fit.length === rows.length ? 'all' : fit.length} of them
        </button>
      </div>
    </>
  );
}
