'use client';
/** Joints of chains over the model's front and its side, tips with them: each is dragged where it belongs. */
import type { Spar, SparChain, Vec } from '@/core/rig';
import type { BodyAxes } from './plates';
import { FigurePlate, type PlateProps } from './plates';

/** As a model stands: glTF 2.0, section 3.4. */
const AXES: BodyAxes = { up: [0, 1, 0], front: [0, 0, 1], left: [1, 0, 0] };

type Given = Pick<PlateProps, 'sha' | 'name' | 'ready' | 'error' | 'chosen' | 'busy' | 'heat' | 'lines' | 'moves' | 'onChoose'>;

export function ChainPlates({
  spars,
  chains,
  chain,
  onJoint,
  ...given
}: Given & {
  spars: readonly Spar[];
  chains: readonly SparChain[];
  /** The one that is worked on; null: all. */
  chain: SparChain | null;
  onJoint: (chain: SparChain, joint: number, to: Vec) => void;
}) {
  // the end of a chain is dragged as a joint is
  const rings = chains.flatMap((chain) => {
    const own = chain.spars.map((s, joint) => ({ chain, joint, spar: spars[s] }));
    const last = own[own.length - 1].spar;
    return [...own, { chain, joint: own.length, spar: { ...last, name: `tip of ${chain.name}`, head: last.tail } }];
  });
  const names = new Set(rings.map((r) => r.spar.name));
  const faint = new Set(rings.flatMap((r) => (chain && r.chain !== chain ? [r.spar.name] : [])));
  return (
    <div className="grid grid-cols-2 gap-2 min-h-0">
      {(['front', 'side'] as const).map((side) => (
        <FigurePlate
          key={side}
          side={side}
          axes={AXES}
          spars={rings.map((r) => r.spar)}
          pair={null}
          faint={faint}
          {...given}
          chosen={given.chosen !== null && names.has(given.chosen) ? given.chosen : null}
          onMove={(bone, to) => {
            const ring = rings.find((r) => r.spar.name === bone);
            if (ring) onJoint(ring.chain, ring.joint, to);
          }}
        />
      ))}
    </div>
  );
}
