'use client';
/** What Rig shows of the model: the table, a figure's plates, plates of chains, or two weightings beside one another. */
import type { axesOf, SparChain, sparsOf } from '@/core/rig';
import { afterwards } from '../kit';
import { Picture, type Place } from './picture';
import { FigurePlate } from './plates';
import type { Tester } from './tester';

// a plate of chains comes when it is asked for
const ChainPlates = afterwards(() => import('./chainplates'), 'ChainPlates');
const NONE: readonly number[] = [];

type Pictured = Parameters<typeof Picture>[0];

export function RigStage({
  shown,
  rig,
  unhung,
  tester,
  chosen,
  joint,
  busy,
  fixed,
  pressing,
  asks,
  stroke,
  axes,
  plates,
  pair,
  onPress,
  onChoose,
  onJoint,
  onMove,
  onChainJoint,
}: Pick<Pictured, 'unhung' | 'chosen' | 'pressing' | 'asks' | 'stroke' | 'onPress'> & {
  shown: Pick<Pictured, 'sha' | 'name' | 'ready' | 'error'>;
  rig: ReturnType<typeof sparsOf>;
  tester: Tester;
  joint: string | null;
  busy: boolean;
  /** Joints are not to be dragged. */
  fixed: boolean;
  /** Of a figure whose joints are looked at in plates. */
  axes: ReturnType<typeof axesOf>;
  /** Chains are to be seen from two sides. */
  plates: boolean;
  pair: (bone: string, to: Place) => { name: string; at: Place } | null;
  onChoose: (chain: number | null) => void;
  onJoint: (bone: string | null) => void;
  onMove: (bone: string, to: Place) => void;
  /** Undefined: there are no chains of this recipe. */
  onChainJoint: ((chain: SparChain, joint: number, to: Place) => void) | undefined;
}) {
  const look = {
    heat: tester.heat,
    lines: tester.lines,
    moves: tester.look === 'motion' || (tester.look === 'pose' && tester.whole !== null),
  };
  if (tester.before && shown.ready)
    return (
      <div className="grid grid-cols-2 gap-2 min-h-0">
        {(
          [
            ['before', tester.before],
            ['now', tester],
          ] as const
        ).map(([when, of]) => (
          <figure key={when} className="relative min-h-0 min-w-0 grid m-0" aria-label={`The weights ${when}`}>
            <figcaption className="absolute z-10 left-2 top-2 text-small font-semibold">{when}</figcaption>
            <Picture
              {...shown}
              name={`${shown.name}, ${when},`}
              rig={rig}
              unhung={NONE}
              chosen={chosen}
              pressing={null}
              asks={when === 'now' ? asks : null}
              stroke={when === 'now' ? stroke : null}
              busy={busy}
              heat={of.heat}
              lines={of.lines}
              moves={false}
              onPress={when === 'now' ? onPress : () => undefined}
              onChoose={onChoose}
            />
          </figure>
        ))}
      </div>
    );
  if (axes)
    return (
      <div className="grid grid-cols-2 gap-2 min-h-0">
        {(['front', 'side'] as const).map((side) => (
          <FigurePlate
            key={side}
            side={side}
            {...shown}
            {...look}
            spars={rig.spars}
            axes={axes}
            chosen={joint}
            busy={fixed}
            pair={pair}
            onChoose={onJoint}
            onMove={onMove}
          />
        ))}
      </div>
    );
  if (plates && onChainJoint && rig.chains.length > 0)
    return (
      <ChainPlates
        {...shown}
        {...look}
        spars={rig.spars}
        chains={rig.chains}
        chain={chosen === null ? null : (rig.chains[chosen] ?? null)}
        chosen={joint}
        busy={busy}
        onChoose={onJoint}
        onJoint={onChainJoint}
      />
    );
  return (
    <Picture
      {...shown}
      {...look}
      rig={rig}
      unhung={unhung}
      chosen={chosen}
      pressing={pressing}
      asks={asks}
      stroke={stroke}
      busy={busy}
      onPress={onPress}
      onChoose={(i) => {
        onChoose(i);
        onJoint(null);
      }}
    />
  );
}
