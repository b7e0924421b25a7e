'use client';
/** One chain: what it is called, where it hangs, what it goes on with; parted at a joint, turned round. */
import { ArrowLeftRight, Link2, Scissors, Undo2 } from 'lucide-react';
import { type FormEvent, useState } from 'react';
import type { SparChain } from '@/core/rig';
import { NameInPlace, PickField } from '../kit';
import { type ChainsSettings, changed, foundOf, goOn, hangFrom, part, rename, renameAll, reverse, struckOf, whole } from './chainacts';

interface Asked {
  settings: ChainsSettings;
  chains: readonly SparChain[];
  busy: boolean;
  onChange: (next: ChainsSettings) => void;
}

const ROOT = '';

export function ChainSheet({
  settings,
  chains,
  busy,
  onChange,
  chain,
  root,
}: Asked & {
  chain: SparChain;
  /** What a chain hangs from that hangs from no other. */
  root: string;
}) {
  const [naming, setNaming] = useState(false);
  const [joint, setJoint] = useState(1);
  const found = foundOf(chain);
  const others = chains.filter((c) => foundOf(c).name !== found.name);
  const asWhole = whole(settings, chain);
  const moved = settings.changes[found.name]?.jointsM;
  // a part hangs where it was parted
  const first = found.joint === 0;
  const at = Math.min(joint, Math.max(1, chain.spars.length - 1));
  const from = chain.from >= 0 ? foundOf(chains[chain.from]).name : ROOT;
  return (
    <fieldset className="mt-2 pt-2 border-t border-[color:var(--hair)] text-small" disabled={busy} aria-label={`Chain ${chain.name}`}>
      <div className="flex flex-wrap items-center gap-2">
        {naming ? (
          <NameInPlace
            label={`Name of ${chain.name}`}
            initial={chain.name}
            className="h-[28px]! w-[170px]!"
            onDone={(name) => onChange(rename(settings, chain, name.slice(0, 100)))}
            onLeave={() => setNaming(false)}
          />
        ) : (
          <button type="button" className="btn btn-bare btn-sm named text-[14px]" title="Call it otherwise" onClick={() => setNaming(true)}>
            {chain.name}
          </button>
        )}
        {first && (
          <>
            <span className="soft">hangs from</span>
            <PickField
              label="Hangs from"
              value={from}
              options={[[ROOT, root], ...others.map((c) => [foundOf(c).name, c.name] as const)]}
              onChange={(name) => onChange(hangFrom(settings, chain, chains.find((c) => foundOf(c).name === name) ?? null))}
            />
            <button
              type="button"
              className="btn btn-line btn-sm"
              title="Its root where its tip is"
              onClick={() => onChange(reverse(settings, chain))}
            >
              <ArrowLeftRight className="ico" />
              Turn round
            </button>
          </>
        )}
      </div>
      <div className="flex flex-wrap items-center gap-2 mt-1.5">
        {chain.spars.length > 1 && (
          <>
            <button type="button" className="btn btn-line btn-sm" onClick={() => onChange(part(settings, chain, at))}>
              <Scissors className="ico" />
              Part it
            </button>
            <span className="soft">behind bone</span>
            <PickField
              label="Part it behind bone"
              value={String(at)}
              options={chain.spars.slice(1).map((_, k) => [String(k + 1), String(k + 1)] as const)}
              onChange={(k) => setJoint(Number(k))}
            />
          </>
        )}
        {first && others.length > 0 && (
          <>
            <Link2 className="ico" aria-hidden="true" />
            <span className="soft">goes on with</span>
            <PickField
              label="Goes on with"
              value={ROOT}
              options={[[ROOT, 'none'], ...others.map((c) => [foundOf(c).name, c.name] as const)]}
              onChange={(name) => {
                const next = chains.find((c) => foundOf(c).name === name);
                if (next) onChange(goOn(settings, chain, next));
              }}
            />
          </>
        )}
        {asWhole && (
          <button type="button" className="btn btn-bare btn-sm" title="Neither parted nor joined" onClick={() => onChange(asWhole)}>
            <Undo2 className="ico" />
            As it was found
          </button>
        )}
        {moved && (
          <button
            type="button"
            className="btn btn-bare btn-sm"
            onClick={() => onChange(changed(settings, found.name, { jointsM: undefined }))}
          >
            <Undo2 className="ico" />
            Joints as found
          </button>
        )}
      </div>
    </fieldset>
  );
}

/** What is about all chains: names by a pattern, and those that were struck. */
export function AllChains({ settings, chains, busy, onChange }: Asked) {
  const [pattern, setPattern] = useState('');
  const struck = struckOf(settings);
  const take = (e: FormEvent) => {
    e.preventDefault();
    if (pattern.trim()) onChange(renameAll(settings, chains, pattern));
  };
  return (
    <div className="mt-2 text-small">
      <form className="flex flex-wrap items-center gap-2" onSubmit={take}>
        <label className="soft" htmlFor="chain-names">
          Call them all
        </label>
        <input
          id="chain-names"
          className="field h-[28px]! w-[150px]! text-small"
          placeholder="frond {n}{side}"
          title="{n} is a number each, {side} is .L or .R of twins"
          maxLength={80}
          value={pattern}
          onChange={(e) => setPattern(e.target.value)}
        />
        <button type="submit" className="btn btn-line btn-sm" disabled={busy || !pattern.trim()}>
          Call
        </button>
      </form>
      {struck.length > 0 && (
        <p className="mt-1.5 flex flex-wrap items-center gap-1.5">
          <span className="soft">Struck:</span>
          {struck.map((name) => (
            <button
              key={name}
              type="button"
              className="btn btn-bare btn-sm"
              disabled={busy}
              title="Bring it back"
              onClick={() => onChange(changed(settings, name, { struck: undefined }))}
            >
              <Undo2 className="ico" />
              {name}
            </button>
          ))}
        </p>
      )}
    </div>
  );
}
