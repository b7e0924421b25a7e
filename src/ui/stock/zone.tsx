'use client';
/** Files come in wherever one is in a piece: dropped on any step, pasted, or chosen. */
import { createContext, type ReactNode, useContext, useEffect, useMemo, useRef } from 'react';
import { type FileRejection, useDropzone } from 'react-dropzone';
import { INTAKE_LIMITS } from '@/core/intake';
import { showBytes } from '@/core/math';
import { useActs } from '../acts';
import { isTaken } from '../kit/drops';
import { say } from '../kit/say';
import { usePiece, usePieceStore } from '../piece/context';
import { sendDropped } from './taking';

interface Zone {
  /** Something is held over the page. */
  over: boolean;
  choose: () => void;
  take: (files: readonly File[]) => void;
}
const ZoneContext = createContext<Zone>({ over: false, choose: () => undefined, take: () => undefined });
export const useFilesZone = () => useContext(ZoneContext);

const refuse = (refused: readonly FileRejection[]) => {
  for (const { file } of refused)
    say.error(
      `${file.name} was not brought in: it has ${showBytes(file.size)}, and a file may have ${showBytes(INTAKE_LIMITS.fileBytes)}.`,
    );
};

/** What a clipboard holds has no name of its own. */
function named(file: File): File {
  if (!/^image\.\w+$/.test(file.name)) return file;
  const now = new Date().toISOString().slice(0, 19).replaceAll(':', '-');
  return new File([file], `pasted ${now}${file.name.slice(5)}`, { type: file.type });
}

/** @param here in Stock, what comes in is looked at; elsewhere one is told of it. */
export function FilesZone({ here, onLook, children }: { here: boolean; onLook: (file: string) => void; children: ReactNode }) {
  const store = usePieceStore();
  const yard = usePiece((s) => s.yard.name);
  const latest = useRef({ here, onLook });
  latest.current = { here, onLook };
  const take = useMemo(
    () => (files: readonly File[]) => {
      if (files.length === 0) return;
      const look = (id: string) => {
        latest.current.onLook(id);
        const item = store.getState().history.doc.stock[id];
        if (!latest.current.here && item) say.message(`${item.name} is in Stock.`);
      };
      if (!latest.current.here) say.message(`${files.length === 1 ? files[0].name : `${files.length} files`}: on the way into Stock.`);
      sendDropped(store, look, files);
    },
    [store],
  );
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDropAccepted: (files, event) => !isTaken(event) && take(files),
    onDropRejected: refuse,
    noClick: true,
    noKeyboard: true,
    // heard wherever the focus is, not only in it
    noPaste: true,
    maxSize: INTAKE_LIMITS.fileBytes,
  });
  useActs({ 'bring-files': { run: open } });
  useEffect(() => {
    const paste = (e: ClipboardEvent) => {
      const files = [...(e.clipboardData?.files ?? [])];
      if (files.length === 0 || (e.target instanceof Element && e.target.closest('input, textarea, [role="dialog"]'))) return;
      e.preventDefault();
      take(files.map(named));
    };
    window.addEventListener('paste', paste);
    return () => window.removeEventListener('paste', paste);
  }, [take]);
  const zone = useMemo(() => ({ over: isDragActive, choose: open, take }), [isDragActive, open, take]);
  return (
    <ZoneContext.Provider value={zone}>
      <div {...getRootProps({ className: 'contents', role: 'none' })}>
        <input {...getInputProps({ 'aria-label': 'Files for Stock' })} />
        {children}
        {isDragActive && !here && (
          <div className="fixed inset-0 z-40 grid place-items-center pointer-events-none" style={{ background: 'rgb(12 27 35 / .5)' }}>
            <p className="sheet px-5 py-4 text-[15px] font-semibold">Let go to bring them into the Stock of this piece, in {yard}</p>
          </div>
        )}
      </div>
    </ZoneContext.Provider>
  );
}
