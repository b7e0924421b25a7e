'use client';
import { drawnModel, drawnSky, stocksOf } from '@/core/piece';
import { Flag } from '../kit';
import { useDocument } from './context';
import { tryAgain, useFetching } from './stagehooks';

/** Over a picture of the piece: files of its parts that are on their way, and those that did not come, with a way to have them. */
export function FilesOnTheWay() {
  const doc = useDocument();
  const files = useFetching((s) => s.files);
  const worn = [...new Set(Object.values(doc.parts).flatMap(stocksOf))];
  const told = worn.flatMap((id) => {
    const sha = drawnModel(doc, id) ?? drawnSky(doc, id);
    const state = sha ? files[sha] : undefined;
    return state ? [{ id, name: doc.stock[id].name, state }] : [];
  });
  if (told.length === 0) return null;
  const failed = told.flatMap(({ id, name, state }) => (state.is === 'failed' ? [{ id, name, why: state.why }] : []));
  const waiting = told.filter(({ state }) => state.is === 'waits');
  return (
    <div
      className="absolute left-2 right-2 top-2 px-2.5 py-1.5 text-small bg-[color:var(--color-base-100)] border border-[color:var(--hair-strong)]"
      role="status"
      data-files={failed.length > 0 ? 'failed' : 'waits'}
    >
      {waiting.length > 0 && (
        <p className="flex items-center gap-2">
          <Flag kind="waits" />
          <span className="truncate">
            {waiting.length === 1 ? `${waiting[0].name} is being fetched …` : `${waiting.length} files are being fetched …`}
          </span>
        </p>
      )}
      {failed.slice(0, 3).map(({ id, name, why }) => (
        <p key={id} className="flex items-center gap-2">
          <Flag kind="blocker" />
          <span className="min-w-0 break-words">
            <b className="font-semibold">{name}</b> is not shown: {why}.
          </span>
        </p>
      ))}
      {failed.length > 0 && (
        <p className="flex items-center gap-2 pt-1">
          <span className="soft mr-auto">{failed.length > 3 ? `and ${failed.length - 3} more` : 'It is safe in the Yard.'}</span>
          <button type="button" className="fix" onClick={tryAgain}>
            Try again
          </button>
        </p>
      )}
    </div>
  );
}
