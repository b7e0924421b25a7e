'use client';
import { QueryClient, QueryClientProvider, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown, PackageOpen, Plus } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { ApiFailure, PieceSummary, UnreadablePiece, YardPiece, YardSummary, YardUse, YardWeights } from '@/api';
import { ask } from '@/api/ask';
import { forms } from '@/worker/browser';
import { ActsLayer, useActs } from '../acts';
import {
  AccountMenu,
  Boat,
  Choice,
  FlagLabel,
  lazily,
  Menu,
  NameDialog,
  PickField,
  PressMenus,
  Tips,
  Toasts,
  useAddress,
  useGo,
} from '../kit';
import { say } from '../kit/say';
import { Cartouche } from './cartouche';
import { useCovers } from './covers';
import { useDroppedOnYard } from './dropped';
import { PieceCard } from './piececard';
import { arrange, ORDERS, type Order, SHOWS, type Shows } from './sorting';
import { UnreadableCard } from './unreadablecard';

/** Each with its words. */
const optionsOf = <K extends string>(words: Readonly<Record<K, string>>) => Object.entries(words) as [K, string][];

/** Before the first answer, and between two where something is still worked out. */
const NONE_KNOWN: YardWeights = {};
const SOON_MS = 2_000;
const AGAIN_MS = 15_000;

const LEVELS = ['blocker', 'warning', 'note'] as const;

interface Props {
  yard: YardSummary;
  yards: YardSummary[];
  account: string;
  pieces: YardPiece[];
  use: YardUse;
}

const YardFinds = lazily(() => import('./finds'), 'YardFinds');

export function YardView(props: Props) {
  const [client] = useState(() => new QueryClient());
  return (
    <QueryClientProvider client={client}>
      <YardPage key={props.yard.id} {...props} />
      <Toasts />
    </QueryClientProvider>
  );
}

function YardPage({ yard, yards, account, pieces: initial, use }: Props) {
  const router = useRouter();
  const go = useGo();
  const client = useQueryClient();
  const { data: all } = useQuery({
    queryKey: ['pieces', yard.id],
    queryFn: () => ask((api) => api.listPieces(yard.id)),
    initialData: initial,
  });
  // the same list as long as it is: a new one would have every cover made anew
  const pieces = useMemo(() => all.filter((p): p is PieceSummary => 'name' in p), [all]);
  const unreadable = all.filter((p): p is UnreadablePiece => 'unreadable' in p);
  const covers = useCovers(pieces);
  const { data: weights = NONE_KNOWN, error: unweighed } = useQuery({
    queryKey: ['weights', yard.id, pieces.map((p) => p.revision).join(' ')],
    queryFn: () => ask((api) => api.weighYard(yard.id)),
    placeholderData: (old) => old,
    networkMode: 'always',
    // those that are being worked out are asked for again
    refetchInterval: (q) => (q.state.status === 'error' ? AGAIN_MS : Object.values(q.state.data ?? {}).includes(null) && SOON_MS),
  });
  const weightOf = (id: string) => {
    const weight = weights[id];
    if (weight) return 'bytes' in weight ? weight.bytes : weight.why;
    return unweighed ? unweighed.message : null;
  };
  const [order, setOrder] = useAddress('order');
  const [shows, setShows] = useAddress('only');
  const [kept, keepWords] = useAddress('words');
  // what is typed stands at once; the address follows
  const [words, setTyped] = useState(kept ?? '');
  const setWords = (to: string) => {
    setTyped(to);
    keepWords(to || null);
  };
  const asked = {
    order: order && order in ORDERS ? (order as Order) : 'changed',
    shows: shows && shows in SHOWS ? (shows as Shows) : 'all',
    words,
  } as const;
  const search = useRef<HTMLInputElement>(null);
  const [dialog, setDialog] = useState<'piece' | 'yard' | null>(null);
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState(yard.name);
  const [shown, setShown] = useState<'pieces' | 'deleted'>('pieces');
  const [busy, setBusy] = useState<string | null>(null);
  const bundle = useRef<HTMLInputElement>(null);
  // what every form is made from, while one looks for a piece: its first picture need not wait for it
  useEffect(() => void forms.warm().catch(() => undefined), []);
  const refresh = () => client.invalidateQueries({ queryKey: ['pieces', yard.id] });
  const attempt = (act: () => Promise<unknown>) => act().catch((e: ApiFailure) => say.error(e.message));
  const living = pieces.filter((p) => !p.deletedAt);
  const deleted = pieces.filter((p) => p.deletedAt);
  const counts = Object.fromEntries(LEVELS.map((k) => [k, living.reduce((s, p) => s + p.findings[k], 0)])) as Record<
    (typeof LEVELS)[number],
    number
  >;
  const bring = (file: File | undefined) => {
    if (!file) return;
    setBusy(`Reading ${file.name} …`);
    void attempt(async () => {
      await ask((api) => api.bringBundle(yard.id, file));
      await refresh();
      say.message(`${file.name} was brought in.`);
    }).finally(() => setBusy(null));
  };
  const rename = (to: string) => {
    setName(to);
    void ask((api) => api.renameYard(yard.id, to)).then(
      () => router.refresh(),
      (e: ApiFailure) => {
        setName(yard.name);
        say.error(e.message);
      },
    );
  };
  const listed = arrange(shown === 'pieces' ? living : deleted, asked, weights);
  useActs({
    'new-piece': { run: () => setDialog('piece') },
    'new-yard': { run: () => setDialog('yard') },
    'rename-yard': { run: () => setNaming(true) },
    'bring-bundle': { run: () => bundle.current?.click() },
    'search-pieces': { run: () => search.current?.focus() },
  });
  const drop = useDroppedOnYard(yard.id, bring);
  return (
    <div className="grid h-screen" style={{ gridTemplateRows: 'var(--bar) minmax(0,1fr)' }} {...drop}>
      <a className="skip" href="#pieces">
        To the pieces
      </a>
      <header className="land flex items-stretch rule-double min-w-0" style={{ height: 'var(--bar)' }}>
        <span className="flex items-center gap-2 pl-3 pr-3 border-r border-[color:var(--hair)]">
          <Boat />
          <span className="text-[15px] font-semibold tracking-[-.01em] narrow-off">Scaphos</span>
        </span>
        <div className="flex items-center gap-2 px-4">
          <span className="text-small soft narrow-off">Yard</span>
          <Menu
            label="Switch yard"
            className="pick border-0 bg-transparent px-1"
            button={
              <>
                <b className="font-semibold text-body truncate max-w-[min(340px,34vw)]">{name}</b>
                <ChevronDown className="ico" />
              </>
            }
            groups={[
              {
                id: 'Yards',
                choice: true,
                entries: yards.map((y) => ({
                  id: y.id,
                  label: y.id === yard.id ? name : y.name,
                  chosen: y.id === yard.id,
                  act: () => void go(`/yard/${y.id}`),
                })),
              },
              {
                id: 'More',
                entries: [
                  { id: 'name', label: 'Rename this yard', act: () => setNaming(true) },
                  { id: 'make', label: 'Make a yard', mark: <Plus className="ico" />, act: () => setDialog('yard') },
                ],
              },
            ]}
          />
        </div>
        <div className="ml-auto flex items-center gap-1.5 px-3">
          <input
            ref={bundle}
            type="file"
            accept=".zip,application/zip"
            className="hidden"
            aria-label="Bundle file"
            onChange={(e) => {
              bring(e.target.files?.[0]);
              e.target.value = '';
            }}
          />
          <button
            type="button"
            className={`btn btn-line btn-sm ${busy ? 'busy' : ''}`}
            aria-label={busy ?? 'Bring in a bundle'}
            onClick={() => bundle.current?.click()}
          >
            <PackageOpen className="ico" />
            <span className="mid">{busy ?? 'Bring in a bundle'}</span>
          </button>
          <button type="button" className="btn btn-primary btn-sm" aria-label="New piece" onClick={() => setDialog('piece')}>
            <Plus className="ico" />
            <span className="narrow-off">New piece</span>
          </button>
          <AccountMenu name={account} />
        </div>
      </header>
      <main className="land min-h-0 overflow-y-auto flex flex-col px-4 pt-3 pb-3 gap-3">
        <Cartouche name={name} pieces={living.length} use={use} naming={naming} onName={rename} onNaming={setNaming} />
        <div className="flex flex-wrap items-center gap-2">
          <Choice
            label="Which pieces"
            options={[
              { value: 'pieces', label: 'Pieces' },
              {
                value: 'deleted',
                label: <>Deleted {deleted.length > 0 && <span className="num">{deleted.length}</span>}</>,
              },
            ]}
            value={shown}
            onChange={setShown}
          />
          <input
            ref={search}
            type="search"
            className="field h-[28px]! w-[190px]! text-small"
            aria-label="Search the pieces"
            placeholder="Search by name"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          <PickField
            label="Which are shown"
            options={optionsOf(SHOWS)}
            value={asked.shows}
            onChange={(v) => setShows(v === 'all' ? null : v)}
          />
          <PickField
            label="In which order"
            options={optionsOf(ORDERS)}
            value={asked.order}
            onChange={(v) => setOrder(v === 'changed' ? null : v)}
          />
          <span className="ml-auto flex items-center gap-3 text-small">
            {LEVELS.filter((k) => counts[k] > 0).map((k) => (
              <FlagLabel key={k} kind={k}>
                {counts[k]} {k}
                {counts[k] > 1 ? 's' : ''}
              </FlagLabel>
            ))}
          </span>
        </div>
        <section
          id="pieces"
          tabIndex={-1}
          className="grid gap-3 content-start"
          style={{ gridTemplateColumns: 'repeat(auto-fill, minmax(290px, 1fr))' }}
          aria-label={shown === 'pieces' ? 'Pieces' : 'Deleted pieces'}
        >
          {listed.map((p) => (
            <PieceCard
              key={p.id}
              piece={p}
              weight={weightOf(p.id)}
              cover={covers[p.id] ?? p.coverRevision}
              onChange={refresh}
              attempt={attempt}
            />
          ))}
          {shown === 'pieces' && unreadable.map((p) => <UnreadableCard key={p.id} piece={p} />)}
          {shown === 'pieces' && (
            <button type="button" className="empty cursor-pointer min-h-[284px]" onClick={() => setDialog('piece')}>
              <span>
                <svg
                  width="132"
                  height="56"
                  viewBox="0 0 132 56"
                  aria-hidden="true"
                  fill="none"
                  stroke="var(--ink)"
                  strokeWidth="1.2"
                  className="mx-auto mb-2"
                >
                  <path d="M6 20c22 6 98 6 120-2-4 14-9 26-20 26H28C16 44 10 32 6 20Z" strokeDasharray="4 3" />
                  <path d="M30 25v19M50 27v17M70 27v17M90 25v19M110 21l-4 22" strokeOpacity=".6" />
                  <path d="M2 50h128" stroke="var(--brass)" strokeWidth="2" />
                </svg>
                <b className="block text-[15px] font-semibold" style={{ color: 'var(--ink)' }}>
                  Lay down a new piece
                </b>
                <span className="block text-small mt-0.5">Then bring a model into its Stock</span>
              </span>
            </button>
          )}
          {listed.length === 0 && (shown === 'pieces' ? living : deleted).length > 0 && (
            <p className="empty text-small min-h-[120px]">
              <span>
                No piece is so.{' '}
                <button
                  type="button"
                  className="fix"
                  onClick={() => {
                    setWords('');
                    setShows(null);
                  }}
                >
                  Show all
                </button>
              </span>
            </p>
          )}
          {shown === 'deleted' && deleted.length === 0 && (
            <p className="empty text-small min-h-[120px]">Nothing is deleted. What you delete can be restored from here for 30 days.</p>
          )}
        </section>
      </main>
      {dialog === 'piece' && (
        <NameDialog
          title="Lay down a new piece"
          label="Name"
          initial=""
          action="Lay it down"
          onClose={() => setDialog(null)}
          onDone={async (name) => {
            const { id } = await ask((api) => api.createPiece(yard.id, name));
            setDialog(null);
            router.push(`/piece/${id}/stock`);
          }}
        />
      )}
      {dialog === 'yard' && (
        <NameDialog
          title="Make a yard"
          label="Name"
          initial=""
          action="Make it"
          onClose={() => setDialog(null)}
          onDone={async (name) => {
            const { id } = await ask((api) => api.createYard(name));
            setDialog(null);
            router.push(`/yard/${id}`);
            router.refresh();
          }}
        />
      )}
      <ActsLayer more={(close) => <YardFinds pieces={living} yards={yards} here={yard.id} onClose={close} />} />
      <PressMenus />
      <Tips />
    </div>
  );
}
