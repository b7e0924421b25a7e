'use client';
import { Archive, Box, Download } from 'lucide-react';
import { useState } from 'react';
import { type ApiFailure, api } from '@/api';
import { licenceBlockers, packageContents } from '@/core/deliver';
import { showMegabytes } from '@/core/math';
import { useActs } from '../acts';
import { Flag, follow } from '../kit';
import { type PackageWeight, useDocument, usePiece } from '../piece/context';

/** What can be handed over, with its weight, and why it cannot be yet. */
export function Packages({ weight }: { weight: PackageWeight }) {
  const save = usePiece((s) => s.save);
  const doc = useDocument();
  const { parts } = packageContents(doc);
  const stock = Object.values(doc.stock);
  const stockBytes = stock.reduce((sum, f) => sum + f.bytes, 0);
  const why = save !== 'saved' ? 'Waits until everything is saved' : null;
  const rows = [
    {
      kind: 'glb' as const,
      icon: Box,
      name: 'GLB',
      about: 'One file: visible parts and their clips',
      bytes: weight.is === 'known' ? weight.bytes : null,
      off: parts.length === 0 ? 'Nothing hangs on the head yet' : licenceBlockers(doc).length > 0 ? 'Waits for a licence' : why,
    },
    {
      kind: 'bundle' as const,
      icon: Archive,
      name: 'Bundle',
      about: 'The piece with its files, to work on elsewhere',
      bytes: stockBytes,
      off: why,
    },
  ];
  return (
    <section className="sheet px-3 pt-2 pb-2.5 self-start" aria-label="Packages">
      <header className="flex items-baseline justify-between pb-1 rule-b">
        <h3 className="text-[15px] font-semibold">Packages</h3>
      </header>
      {rows.map((r) => (
        <div key={r.kind} className="py-[9px] border-b border-[color:var(--sheet-hair)] last:border-b-0">
          <div className="flex items-center gap-2 mb-1.5">
            <r.icon className="ico" />
            <span className="flex-1 leading-4">
              <b className="text-[13px] font-semibold">{r.name}</b>
              <span className="block text-micro soft leading-[13px]">{r.about}</span>
            </span>
            <span className="num text-small">
              {r.bytes === null ? (
                '–'
              ) : (
                <>
                  {r.kind === 'bundle' ? '≈ ' : ''}
                  {showMegabytes(r.bytes)}
                  <span className="unit">MB</span>
                </>
              )}
            </span>
          </div>
          {r.off ? (
            <button
              type="button"
              className="btn w-full btn-line"
              style={{ height: 32, borderStyle: 'dashed' }}
              aria-disabled="true"
              title={r.off}
            >
              {r.off}
            </button>
          ) : (
            <Hand kind={r.kind} />
          )}
        </div>
      ))}
    </section>
  );
}

const NAMES = { glb: 'GLB', bundle: 'bundle' };

/** Asks whether the package can be had before the browser is sent for it: what is wrong is said here, not on a page of its own. */
function Hand({ kind }: { kind: 'glb' | 'bundle' }) {
  const id = usePiece((s) => s.id);
  const [state, setState] = useState<'rests' | 'asks' | { why: string }>('rests');
  const hand = async () => {
    setState('asks');
    try {
      await api.checkPackage(id, kind);
      follow(api.packageUrl(id, kind));
      setState('rests');
    } catch (e) {
      setState({ why: (e as ApiFailure).offline ? 'The server does not answer. Try again when it is back.' : (e as ApiFailure).message });
    }
  };
  const busy = state === 'asks';
  useActs(
    kind === 'glb' ? { 'deliver-glb': { run: () => busy || void hand() } } : { 'deliver-bundle': { run: () => busy || void hand() } },
  );
  return (
    <>
      <button
        type="button"
        className={`btn w-full ${kind === 'glb' ? 'btn-primary' : 'btn-line'} ${busy ? 'busy' : ''}`}
        style={{ height: 32 }}
        aria-disabled={busy}
        onClick={() => busy || void hand()}
      >
        <Download className="ico" />
        {busy ? `The ${NAMES[kind]} is being built …` : `Deliver the ${NAMES[kind]}`}
      </button>
      {typeof state === 'object' && (
        <p className="flex gap-2 text-small pt-1.5" role="alert">
          <Flag kind="blocker" />
          <span>
            The {NAMES[kind]} was not delivered. {state.why}
          </span>
        </p>
      )}
    </>
  );
}
