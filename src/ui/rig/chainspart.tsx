'use client';
/** Chains and what can be done to them, in a model that is all chains or hung on the bones it has. */
import type { sparsOf } from '@/core/rig';
import { BonesCurve } from './bonescurve';
import { type ChainsSettings, moreBones, strike } from './chainacts';
import { AllChains, ChainSheet } from './chainsheet';
import { SailPlan } from './sailplan';

export function ChainsPart({
  settings,
  rig,
  hung,
  chosen,
  busy,
  onChoose,
  onChange,
}: {
  /** Undefined: they are the file's own. */
  settings: ChainsSettings | undefined;
  rig: ReturnType<typeof sparsOf>;
  /** On bones that are no chains: those are not listed. */
  hung: boolean;
  /** Place among all chains. */
  chosen: number | null;
  busy: boolean;
  onChoose: (chain: number | null) => void;
  /** null: none is left. */
  onChange: (next: ChainsSettings | null) => void;
}) {
  const places = rig.chains.flatMap((c, i) => (!hung || c.found ? [i] : []));
  const chains = places.map((i) => rig.chains[i]);
  if (chains.length === 0) return null;
  const at = chosen === null ? null : places.indexOf(chosen);
  const chain = at === null ? undefined : chains[at];
  const asked = settings && { settings, chains, busy, onChange };
  return (
    <div className={hung ? 'mt-3' : undefined}>
      <SailPlan
        spars={rig.spars}
        chains={chains}
        numbers={places.map((i) => i + 1)}
        chosen={at}
        busy={busy}
        onChoose={(i) => onChoose(places[i] === chosen ? null : places[i])}
        onMore={settings && ((c, by) => onChange(moreBones(settings, chains, c, by)))}
        onStrike={settings && ((c) => onChange(strike(settings, chains, c)))}
      />
      {asked && chain && <ChainSheet {...asked} key={chain.name} chain={chain} root={hung ? 'the bone there' : 'the root'} />}
      {chain && <BonesCurve chain={chain} />}
      {asked && <AllChains {...asked} />}
    </div>
  );
}
