'use client';
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { api, type PieceAnswer } from '@/api';
import { applyEdit, change, PIECE_KIND, type Piece, type TableName } from '@/core/piece';
import { fetchDialogs } from '../kit';
import { leavePiece } from './leaving';
import { openPieceStore, type PieceState, type PieceStore } from './store';

const PieceContext = createContext<PieceStore | null>(null);

/** Schemas are put together when they first check a row, which takes longer than a frame: while the page rests, not at the first edit. */
function rehearse(doc: Piece): void {
  // not every browser tells when it rests
  const whenIdle = window.requestIdleCallback ?? ((work: () => void) => setTimeout(work, 1000));
  whenIdle(fetchDialogs);
  for (const table of Object.keys(PIECE_KIND.tables) as TableName[]) {
    const oneOfEach = new Map(Object.values(doc[table]).map((row) => [(row as { kind?: string }).kind, row.id]));
    for (const id of oneOfEach.values()) whenIdle(() => void applyEdit(doc, change(table, id, {})));
  }
}

export function PieceProvider({ answer, children }: { answer: PieceAnswer; children: ReactNode }) {
  const [store, setStore] = useState<PieceStore | null>(null);
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } }));
  // biome-ignore lint/correctness/useExhaustiveDependencies: one store a piece; later answers reach it through its own sync
  useEffect(() => {
    let current: PieceStore | null = null;
    let gone = false;
    void openPieceStore(answer).then((s) => {
      if (gone) return s.close();
      current = s;
      setStore(s);
      rehearse(s.getState().history.doc);
    });
    return () => {
      gone = true;
      current?.close();
      leavePiece();
    };
  }, [answer.id]);
  if (!store)
    return (
      <main className="land h-screen grid place-items-center text-small soft" aria-busy="true">
        Opening {answer.document.settings.name} …
      </main>
    );
  return (
    <QueryClientProvider client={client}>
      <PieceContext.Provider value={store}>{children}</PieceContext.Provider>
    </QueryClientProvider>
  );
}

export function usePieceStore(): PieceStore {
  const store = useContext(PieceContext);
  if (!store) throw new Error('usePiece needs a PieceProvider above it');
  return store;
}
export const usePiece = <T,>(pick: (s: PieceState) => T): T => useStore(usePieceStore(), pick);
export const useDocument = () => usePiece((s) => s.history.doc);

/** Weights are worked out by the server: not while one save follows another. */
const REST_MS = 2_000;
/** A value once it has stayed for a while; the first at once. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), REST_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return rested;
}

/** How often what failed is asked for again by itself. */
const AGAIN_MS = 15_000;

/** What is known of the weight of the package: nothing yet, nothing because it failed, or its bytes. */
export type PackageWeight = { is: 'waits' } | { is: 'failed'; why: string; again: () => void } | { is: 'known'; bytes: number };
const WAITS: PackageWeight = { is: 'waits' };

/** The package as the server would build it now; the last known while a save is under way. */
export function useWeight(): PackageWeight {
  const id = usePiece((s) => s.id);
  const revision = useRested(usePiece((s) => s.revision));
  const { data, error, refetch } = useQuery({
    queryKey: ['weight', id, revision],
    queryFn: () => api.weigh(id),
    placeholderData: (old) => old,
    // without a network it fails in words instead of waiting for ever
    networkMode: 'always',
    refetchInterval: (q) => (q.state.status === 'error' ? AGAIN_MS : false),
  });
  return useMemo(() => {
    if (error) return { is: 'failed', why: error.message, again: () => void refetch() };
    return data ? { is: 'known', bytes: data.bytes } : WAITS;
  }, [data, error, refetch]);
}
