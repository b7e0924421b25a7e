'use client';
import { Download, RefreshCw, Trash2 } from 'lucide-react';
import { type ReactNode, useRef } from 'react';
import { api } from '@/api';
import { showMegabytes } from '@/core/math';
import { partsOf, remove, type StockItem } from '@/core/piece';
import { useDocument, usePiece } from '../piece/context';

/** Name, weight, the way to the original, a newer file in its place, and out. */
export function FileHead({
  item,
  busy,
  accept,
  onReplace,
  children,
}: {
  item: StockItem;
  busy: boolean;
  accept?: string;
  onReplace: (files: File[]) => void;
  children?: ReactNode;
}) {
  const id = usePiece((s) => s.id);
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const input = useRef<HTMLInputElement>(null);
  const worn = partsOf(doc, item.id).length > 0;
  return (
    <div className="flex items-center gap-2">
      <h2 className="text-[15px] font-semibold truncate" title={item.name}>
        {item.name}
      </h2>
      <span className="text-small soft whitespace-nowrap">
        <span className="num">{showMegabytes(item.bytes)}</span> MB
      </span>
      <a
        className="btn btn-bare btn-sm btn-icon ml-auto"
        href={api.modelUrl(id, item.original)}
        download={item.name}
        aria-label="Download the original"
        title="Download the original, byte for byte"
      >
        <Download className="ico" />
      </a>
      <button
        type="button"
        className="btn btn-bare btn-sm btn-icon"
        aria-label="Delete the file"
        title={worn ? 'A part is made of this file; delete the part in Fit first' : 'Delete the file'}
        aria-disabled={worn}
        onClick={() => !worn && commit(remove('stock', item.id))}
      >
        <Trash2 className="ico" />
      </button>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="A newer file"
        accept={accept}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = '';
          if (files.length > 0) onReplace(files);
        }}
      />
      <button type="button" className="btn btn-line btn-sm" aria-disabled={busy} onClick={() => !busy && input.current?.click()}>
        <RefreshCw className="ico" />
        Replace the original
      </button>
      {children}
    </div>
  );
}
