'use client';
import { useState } from 'react';
import { api } from '@/api';
import { type Edit, nameEntity, type Piece, storeEdits, touchedByEdit } from '@/core/piece';
import { Dialog, Flag, give } from '../kit';
import { say } from '../kit/say';
import { useDocument, usePiece } from './context';

const clock = (ms: number) => new Date(ms).toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' });

export function SaveMark() {
  const save = usePiece((s) => s.save);
  const savedAt = usePiece((s) => s.savedAt);
  const message = usePiece((s) => s.message);
  const retry = usePiece((s) => s.retry);
  const [asking, setAsking] = useState(false);
  const text = {
    saved: savedAt ? `Saved ${clock(savedAt)}` : 'Saved',
    saving: 'Saving …',
    offline: 'Kept here, not yet in the Yard',
    conflict: 'Edited elsewhere too',
    refused: 'Not taken by the Yard',
    'signed-out': 'Signed out; kept here',
  }[save];
  return (
    <>
      <span
        className={`flag ${save === 'saving' ? 'busy px-1' : ''}`}
        style={{ fontWeight: 450 }}
        role="status"
        aria-live="polite"
        data-save={save}
        title={message ?? undefined}
      >
        <Flag kind={save === 'saved' ? 'done' : save === 'saving' ? 'note' : save === 'offline' ? 'warning' : 'blocker'} />
        <span className="mid">{text}</span>
        {save === 'offline' && (
          <button type="button" className="link text-micro" onClick={retry}>
            Send now
          </button>
        )}
        {save === 'signed-out' && (
          <a className="link text-micro" href={`/sign-in?back=${encodeURIComponent(window.location.pathname)}`}>
            Sign in
          </a>
        )}
        {save === 'refused' && (
          <button type="button" className="link text-micro" onClick={() => setAsking(true)}>
            What now?
          </button>
        )}
      </span>
      {asking && save === 'refused' && <RefusedDialog onClose={() => setAsking(false)} />}
    </>
  );
}

/** Ways out where the server did not take a save: none of them loses anything but the last. */
function RefusedDialog({ onClose }: { onClose: () => void }) {
  const id = usePiece((s) => s.id);
  const name = usePiece((s) => s.history.doc.settings.name);
  const message = usePiece((s) => s.message);
  const unsent = usePiece((s) => s.unsent);
  const sendSingly = usePiece((s) => s.sendSingly);
  const takeServers = usePiece((s) => s.takeServers);
  const [busy, setBusy] = useState(false);
  const count = unsent().length;
  const act = (work: () => Promise<unknown>) => async () => {
    setBusy(true);
    try {
      await work();
      onClose();
    } catch (error) {
      say.error((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const download = () => give(JSON.stringify(storeEdits(unsent())), 'application/json', `${name}, unsent edits.json`);
  return (
    <Dialog title="Not taken by the Yard" onClose={onClose}>
      <p className="text-small mb-2 whitespace-normal" style={{ maxWidth: 460 }}>
        {message} {count === 1 ? 'One edit is' : `${count} edits are`} kept in this browser.
      </p>
      <div className="grid gap-1.5" inert={busy} aria-busy={busy}>
        <button type="button" className="btn btn-primary justify-start" onClick={act(() => sendSingly())}>
          Send one by one <span className="font-normal">what fits is taken, the rest stays here</span>
        </button>
        <button type="button" className="btn btn-line justify-start" onClick={act(async () => sendSingly((await api.copyPiece(id)).id))}>
          Copy to a new piece <span className="soft font-normal">the Yard’s version, and mine as far as it fits</span>
        </button>
        <button type="button" className="btn btn-line justify-start" onClick={download}>
          Download my edits <span className="soft font-normal">a file that ./scaphos piece edit reads</span>
        </button>
        <button type="button" className="btn btn-line justify-start" onClick={act(takeServers)}>
          Take the Yard’s version <span className="soft font-normal">my edits are thrown away</span>
        </button>
      </div>
    </Dialog>
  );
}

/** What people call what both sides changed. */
const nameContested = (edits: readonly Edit[], mine: Piece, theirs: Piece): string[] => [
  ...new Set(edits.flatMap((e) => touchedByEdit(e).writes.map((w) => nameEntity(w, mine, theirs)))),
];

export function ConflictDialog() {
  const conflict = usePiece((s) => s.conflict);
  const resolve = usePiece((s) => s.resolve);
  const doc = useDocument();
  if (!conflict) return null;
  const names = nameContested(conflict.contested, doc, conflict.theirs.document);
  return (
    <Dialog title="Edited in two places" mustChoose onClose={() => undefined}>
      <p className="text-small mb-2" style={{ maxWidth: 460 }}>
        The piece has moved on to revision <b className="num">{conflict.theirs.revision}</b> elsewhere, and both sides changed{' '}
        <span className="named text-[14px]">{names.join(', ')}</span>. Your other edits were laid on top. Which of these should stand?
      </p>
      <div className="grid gap-1.5">
        <button type="button" className="btn btn-line justify-start" onClick={() => resolve('theirs')}>
          Theirs <span className="soft font-normal">as the Yard has it now</span>
        </button>
        <button type="button" className="btn btn-line justify-start" onClick={() => resolve('mine')}>
          Mine <span className="soft font-normal">as it stands in this tab</span>
        </button>
        <button type="button" className="btn btn-primary justify-start" onClick={() => resolve('copies')}>
          Mine as a copy <span className="font-normal">theirs stays, my parts are hung beside them</span>
        </button>
      </div>
    </Dialog>
  );
}
