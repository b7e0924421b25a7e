'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, type Version, type VersionAnswer } from '@/api';
import { batch, changedEntities, editsBetween, nameEntity, type Piece, type SingleEdit } from '@/core/piece';
import { Dialog, NameDialog } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePiece } from './context';
import { portraitOf } from './portrait';

const when = (iso: string) => new Date(iso).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });
/** One edit holds so many; more are several, one after the other. */
const MOST_IN_EDIT = 5_000;
const MOST_TOLD = 12;

/** The picture of a document as a URL; null while it is drawn, a sentence where it cannot be. */
function usePortrait(piece: string, document: Piece | undefined): { url: string | null; why: string | null } {
  const [made, setMade] = useState<{ url: string | null; why: string | null }>({ url: null, why: null });
  useEffect(() => {
    if (!document) return;
    let url: string | null = null;
    let gone = false;
    setMade({ url: null, why: null });
    portraitOf(piece, document).then(
      (png) => {
        if (gone) return;
        url = URL.createObjectURL(png);
        setMade({ url, why: null });
      },
      (error: Error) => !gone && setMade({ url: null, why: error.message }),
    );
    return () => {
      gone = true;
      if (url) URL.revokeObjectURL(url);
    };
  }, [piece, document]);
  return made;
}

/** What people call what differs, each once. */
const differences = (from: Piece, to: Piece): string[] => [...new Set(changedEntities(from, to).map((e) => nameEntity(e, from, to)))];

function Look({ version, now, onBack }: { version: VersionAnswer; now: Piece; onBack: (edits: SingleEdit[]) => void }) {
  const piece = usePiece((s) => s.id);
  const { url, why } = usePortrait(piece, version.document);
  const names = differences(now, version.document);
  return (
    <div className="grid gap-2 content-start" data-version={version.revision}>
      <div
        className="gridded border border-[color:var(--hair)] grid place-items-center"
        style={{ aspectRatio: '606/400' }}
        aria-busy={!url && !why}
      >
        {url ? (
          // biome-ignore lint/performance/noImgElement: drawn here, never fetched
          <img src={url} alt={`The piece at revision ${version.revision}`} className="w-full h-full object-cover" />
        ) : (
          <span className="text-small soft px-4 text-center">{why ?? 'Being drawn …'}</span>
        )}
      </div>
      <p className="text-small">
        {names.length === 0 ? (
          'The same as the piece is now.'
        ) : (
          <>
            Differs from now in <b className="num">{names.length}</b> {names.length === 1 ? 'thing' : 'things'}:{' '}
            {names.slice(0, MOST_TOLD).join(', ')}
            {names.length > MOST_TOLD && ` and ${names.length - MOST_TOLD} more`}.
          </>
        )}
      </p>
      <button
        type="button"
        className="btn btn-primary btn-sm justify-self-start"
        aria-disabled={names.length === 0}
        onClick={() => names.length > 0 && onBack(editsBetween(now, version.document))}
      >
        Make the piece as it was then
      </button>
    </div>
  );
}

function Row({
  version,
  chosen,
  onLook,
  onName,
  onUnname,
}: {
  version: Version;
  chosen: boolean;
  onLook: () => void;
  onName: () => void;
  onUnname: () => void;
}) {
  return (
    <li
      className="flex items-center gap-2 py-1 px-1.5 border-b border-[color:var(--hair)]"
      style={chosen ? { background: 'var(--brass-wash)' } : undefined}
    >
      <button type="button" className="min-w-0 text-left cursor-pointer mr-auto" aria-pressed={chosen} onClick={onLook}>
        <span className={`block truncate text-small ${version.name ? 'font-medium' : 'soft'}`}>{version.name ?? 'Kept by itself'}</span>
        <span className="block text-micro soft truncate">
          Revision <span className="num">{version.revision}</span>, {when(version.at)}
          {version.by && `, named by ${version.by}`}
        </span>
      </button>
      <button type="button" className="link text-micro" onClick={onName}>
        {version.name ? 'Rename' : 'Name it'}
      </button>
      {version.name && (
        <button type="button" className="link text-micro" onClick={onUnname} title="The name goes; the history stays">
          Take the name away
        </button>
      )}
    </li>
  );
}

/** States of the piece one can go back to: looked at beside what it is now, named, made anew as one edit. */
export function VersionsDialog({ onClose }: { onClose: () => void }) {
  const piece = usePiece((s) => s.id);
  const revision = usePiece((s) => s.revision);
  const save = usePiece((s) => s.save);
  const commit = usePiece((s) => s.commit);
  const now = useDocument();
  const client = useQueryClient();
  const [looked, setLooked] = useState<number | null>(null);
  const [naming, setNaming] = useState<Version | null>(null);
  const key = ['versions', piece];
  const list = useQuery({ queryKey: key, queryFn: () => api.listVersions(piece) });
  const version = useQuery({
    queryKey: ['version', piece, looked],
    queryFn: () => api.getVersion(piece, looked as number),
    enabled: looked !== null,
  });
  const keep = (work: Promise<Version[]>) =>
    work.then(
      (versions) => client.setQueryData(key, versions),
      (error: Error) => say.error(error.message),
    );
  const back = (edits: SingleEdit[]) => {
    for (let i = 0; i < edits.length; i += MOST_IN_EDIT) if (!commit(batch(edits.slice(i, i + MOST_IN_EDIT)))) return;
    say.message(`The piece is as it was at revision ${looked}. Undo takes that back.`);
    onClose();
  };
  const saved = save === 'saved';
  return (
    <Dialog title="Versions" wide onClose={onClose}>
      <div className="grid gap-5" style={{ gridTemplateColumns: '1fr 1fr' }}>
        <div className="min-w-0">
          <form
            className="flex items-end gap-2 mb-2"
            onSubmit={(e) => {
              e.preventDefault();
              const name = String(new FormData(e.currentTarget).get('name')).trim();
              if (name && saved) void keep(api.nameVersion(piece, revision, name));
              if (name && saved) e.currentTarget.reset();
            }}
          >
            <label className="text-small min-w-0 flex-1">
              <span className="font-medium block mb-1">
                Name for the piece as it is, revision <span className="num">{revision}</span>
              </span>
              <input className="field" name="name" maxLength={120} required />
            </label>
            <button type="submit" className="btn btn-line btn-sm" aria-disabled={!saved}>
              Keep it
            </button>
          </form>
          {!saved && <p className="text-micro soft mb-2">What is not in the Yard yet cannot be named; it is being sent.</p>}
          {list.error && (
            <p role="alert" className="text-small">
              {list.error.message}{' '}
              <button type="button" className="link" onClick={() => void list.refetch()}>
                Try again
              </button>
            </p>
          )}
          {list.isPending && <p className="text-small soft">Being fetched …</p>}
          <ul className="overflow-y-auto" style={{ maxHeight: 320 }} aria-label="Versions">
            {list.data?.map((v) => (
              <Row
                key={v.revision}
                version={v}
                chosen={v.revision === looked}
                onLook={() => setLooked(v.revision)}
                onName={() => setNaming(v)}
                onUnname={() => void keep(api.unnameVersion(piece, v.revision))}
              />
            ))}
          </ul>
          <form
            className="flex items-end gap-2 mt-3"
            onSubmit={(e) => {
              e.preventDefault();
              setLooked(Number(new FormData(e.currentTarget).get('revision')));
            }}
          >
            <label className="text-small">
              <span className="block mb-1">
                Any revision, 0 to <span className="num">{revision}</span>
              </span>
              <input className="field num" name="revision" type="number" min={0} max={revision} required style={{ width: 120 }} />
            </label>
            <button type="submit" className="btn btn-line btn-sm">
              Look at it
            </button>
          </form>
        </div>
        <div className="min-w-0">
          {looked === null ? (
            <p className="text-small soft">Choose a version to look at it.</p>
          ) : version.error ? (
            <p role="alert" className="text-small">
              {version.error.message}
            </p>
          ) : version.data ? (
            <Look version={version.data} now={now} onBack={back} />
          ) : (
            <p className="text-small soft">Being fetched …</p>
          )}
        </div>
      </div>
      {naming && (
        <NameDialog
          title={`Name revision ${naming.revision}`}
          label="Name"
          initial={naming.name ?? ''}
          action="Keep it"
          onClose={() => setNaming(null)}
          onDone={(name) => {
            void keep(api.nameVersion(piece, naming.revision, name));
            setNaming(null);
          }}
        />
      )}
    </Dialog>
  );
}
