'use client';
/** A live patch: what it shows of the wearer, how it fades, whether it lies on its part, and how far it swims there. */
import { useMemo } from 'react';
import { changePart, type PartOf } from '@/core/piece';
import { swimOver } from '@/core/run';
import { PATCH_REGIONS, WINDOWS } from '@/core/words/windows';
import { Flag, NumField } from '../../kit';
import { usePiece } from '../../piece/context';
import { useFitRun } from '../run';
import { heldIn, stripOf } from '../state';
import { Card, Line, PickLine } from './card';

const LOCKED = 'Unlock the part first';
/** Less is not seen, px of the camera's picture. */
const SEEN_PX = 1;

export function PatchCard({ part }: { part: PartOf<'patch'> }) {
  const commit = usePiece((s) => s.commit);
  const { show } = useFitRun();
  const put = (set: Partial<PartOf<'patch'>>) => commit(changePart(part.id, set));
  const host = part.hang?.on === 'part' ? show.piece.parts[part.hang.part] : null;
  const node = show.nodes.find((n) => n.part.id === part.id);
  // what swims is seen by turning the head, whichever strip is shown
  const poses = useMemo(() => stripOf(show.piece, 'turns'), [show.piece]);
  const swim = useMemo(() => swimOver(show, part.id, poses.map(heldIn)), [show, part.id, poses]);
  const lies = node?.patch?.onPart ?? null;
  return (
    <Card title="Live patch">
      <PickLine
        label="Shows the wearer’s"
        name="What of the wearer it shows"
        width={110}
        value={part.region}
        options={PATCH_REGIONS.map((value) => ({ value, label: WINDOWS[value].label.toLowerCase() }))}
        locked={part.locked}
        onPick={(region) => put({ region })}
      />
      <Line label="Edge fades over">
        <span className="block w-[82px]">
          <NumField
            label="Edge that fades"
            dimension="factor"
            unit="%"
            after="%"
            decimals={0}
            step={0.05}
            min={0}
            max={1}
            value={part.feather}
            disabledWhy={part.locked ? LOCKED : undefined}
            onChange={(feather) => put({ feather })}
          />
        </span>
      </Line>
      <label className="flex items-center gap-1.5 text-small min-h-[28px]">
        <input
          type="checkbox"
          className="check"
          checked={part.seated}
          disabled={part.locked || !host}
          title={part.locked ? LOCKED : host ? undefined : 'Hang it on a part first'}
          onChange={(e) => put({ seated: e.target.checked })}
        />
        <span className="truncate">{host ? `lies on ${host.name}` : 'lies on the part it hangs on'}</span>
      </label>
      <p className="text-small mt-1" data-swim={swim ? swim.px.toFixed(2) : ''}>
        {!host && 'It hangs on no part: it is flat, and stands before what is behind it.'}
        {host && !swim && `Nothing of ${host.name} lies behind it as the camera sees it.`}
        {swim && (
          <span className="flex items-start gap-1.5">
            {swim.px > SEEN_PX && <Flag kind="warning" size={13} />}
            <span>
              {swim.px > SEEN_PX ? (
                <>
                  It swims by up to <span className="num">{swim.px.toFixed(1)} px</span>, {poses[swim.pose].label.toLowerCase()}.
                </>
              ) : (
                <>
                  It stays where it lies: within <span className="num">{swim.px.toFixed(1)} px</span> in every pose of the strip.
                </>
              )}
              {lies !== null && lies < 0.98 && ` ${Math.round((1 - lies) * 100)} % of it finds nothing to lie on and is not drawn.`}
            </span>
          </span>
        )}
      </p>
    </Card>
  );
}
