'use client';
import { memo, useMemo } from 'react';
import { ulid } from 'ulid';
import { isBehind, putBefore, putBehind, rehang } from '@/core/fit';
import { LANDMARKS, MEASURES, nearFacePlace } from '@/core/form';
/** Where a part hangs, what of it it follows, and in which layer it is drawn. */
import {
  ANCHOR_LABELS,
  type Anchor,
  anchorKey,
  anchorLabel,
  branchOf,
  changePart,
  drawnModel,
  type Follow,
  type Hang,
  isPlaced,
  isWorn,
  layerName,
  onPart,
  type Part,
  type Piece,
  partDef,
  rackOf,
  SOLE_ANCHORS,
  stockOf,
} from '@/core/piece';
import { HUMANOID_SETS, jointWords } from '@/core/words/humanoid';
import { placeWords } from '@/core/words/places';
import { NumField } from '../../kit';
import { say } from '../../kit/say';
import { useDocument, usePiece } from '../../piece/context';
import { useFaceForm } from '../../piece/wearers';
import { onAnchorKey } from '../kinds';
import { useFitModels, useFitRunRef } from '../run';
import { useFit } from '../state';
import { framesFor } from '../view';
import { Card, Line, PickLine } from './card';

const CHANNELS = ['place', 'yaw', 'pitch', 'roll'] as const;
const asValue = (hang: Hang | null) =>
  hang === null ? '' : hang.on === 'anchor' ? `anchor ${anchorKey(hang.anchor)}` : `part ${hang.part} ${hang.bone ?? ''}`;

function asHang(value: string): Hang | null {
  const [on, id, ...bone] = value.split(' ');
  if (on === 'anchor') return onAnchorKey([id, ...bone].join(' '));
  return on === 'part' ? onPart(id, bone.join(' ') || undefined) : null;
}

/** Joints that are offered: without the fingers', but for one it hangs on. */
const jointsFor = (hang: Hang | null): readonly string[] => {
  const on = hang?.on === 'anchor' && hang.anchor.kind === 'joint' ? hang.anchor.joint : null;
  return on === null || HUMANOID_SETS[22].includes(on) ? HUMANOID_SETS[22] : [...HUMANOID_SETS[22], on];
};

/** "headBreadth" → "head breadth". */
const measureWords = (name: string) => name.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`);

/** One half-life for place, turn and size; nothing lags where both are nought. */
function lagging(halfLifeS: number, deadZoneM: number): Follow['trail'] {
  const ms = Math.round(halfLifeS * 1000);
  return ms > 0 || deadZoneM > 0 ? { placeHalfLifeMs: ms, turnHalfLifeMs: ms, sizeHalfLifeMs: ms, deadZoneM } : null;
}

interface Carrier {
  id: string;
  name: string;
  bones: string[];
}

/** Parts that one may hang from, and their bones. */
function Carriers({ doc, part }: { doc: Piece; part: Part }) {
  const models = useFitModels();
  const own = new Set(branchOf(doc, part.id).map((p) => p.id));
  const carriers = rackOf(doc)
    .filter((p) => !own.has(p.id) && partDef(p).onParts)
    .map((p): Carrier => {
      const model = models[drawnModel(doc, stockOf(p) ?? '') ?? ''];
      const joints = new Set(model?.skins.flatMap((s) => s.joints) ?? []);
      return { id: p.id, name: p.name, bones: [...joints].map((j) => model?.nodes[j].name ?? '').filter(Boolean) };
    });
  // hundreds of choices are not drawn anew where an edit changed none of them
  const said = JSON.stringify(carriers);
  return <CarrierOptions carriers={useMemo(() => JSON.parse(said) as Carrier[], [said])} />;
}

const CarrierOptions = memo(function CarrierOptions({ carriers }: { carriers: readonly Carrier[] }) {
  return carriers.map(({ id, name, bones }) => (
    <optgroup key={id} label={name}>
      <option value={`part ${id} `}>{name}</option>
      {bones.map((b) => (
        <option key={b} value={`part ${id} ${b}`}>
          bone {b}
        </option>
      ))}
    </optgroup>
  ));
});

/** Eyes and ears by the wearer's side, and the landmarks of the skin. */
function FaceOptions({ part }: { part: Part }) {
  const at = part.hang?.on === 'anchor' ? part.hang.anchor : null;
  const pressed: Anchor[] = at?.kind === 'face' && !at.landmark ? [at] : [];
  const pairs = (['eye', 'ear'] as const).flatMap((kind): Anchor[] => [{ kind, side: 'left' }, { kind, side: 'right' }, { kind }]);
  const marks = LANDMARKS.map((landmark): Anchor => ({ kind: 'face', landmark }));
  const options = (anchors: readonly Anchor[]) =>
    anchors.map((a) => (
      <option key={anchorKey(a)} value={`anchor ${anchorKey(a)}`}>
        {a.kind === 'face' && a.landmark ? placeWords(a.landmark) : anchorLabel(a)}
      </option>
    ));
  return (
    <>
      {options(pairs)}
      <optgroup label="The wearer’s skin">
        {options(pressed)}
        {options(marks)}
      </optgroup>
    </>
  );
}

/** A place pressed on the skin; and where that is. */
function OnTheSkin({ part }: { part: Part }) {
  const picking = useFit((s) => s.picking?.part === part.id);
  const set = useFit((s) => s.set);
  const form = useFaceForm(useDocument());
  const at = part.hang?.on === 'anchor' && part.hang.anchor.kind === 'face' ? part.hang.anchor : null;
  const near = at && form && nearFacePlace(form, at);
  return (
    <>
      {near && (
        <p className="text-micro soft mt-1">
          {near.side === 'middle' ? 'In the middle' : `On the wearer’s ${near.side}`}, {(near.apartM * 1000).toFixed(1)} mm from{' '}
          {placeWords(near.landmark)}
        </p>
      )}
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight w-full mt-1.5"
        aria-pressed={picking}
        aria-disabled={part.locked || undefined}
        title={
          part.locked ? 'Unlock the part first' : 'Then press the skin in the Mirror or a plate: it goes along with what the face does'
        }
        onClick={() => !part.locked && set({ picking: picking ? null : { part: part.id, stays: false } })}
      >
        Press its place on the skin …
      </button>
    </>
  );
}

export function Hanging({ part }: { part: Part }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const run = useFitRunRef();
  const def = partDef(part);
  const follow = (set: Partial<Follow>) => commit(changePart(part.id, { follow: { ...part.follow, ...set } }));
  const off = part.locked ? true : undefined;
  const behind = isBehind(doc, part);
  const worn = isWorn(part);
  const hangOnIt = async (hang: Hang | null) => {
    const frames = await framesFor(run.current.show, hang).catch((e: Error) => say.error(e.message));
    if (frames) commit(rehang(doc, frames, [part.id], hang, true));
  };
  return (
    <Card title="Hanging">
      <Line label="Hangs on">
        <select
          className="field h-[26px]! px-1! text-small"
          style={{ width: 148 }}
          aria-label="Hangs on"
          value={asValue(part.hang)}
          disabled={off || worn}
          title={worn ? 'The body wears it; take it off first' : off && 'Unlock the part first'}
          onChange={(e) => void hangOnIt(asHang(e.target.value))}
        >
          {worn && <option value={asValue(part.hang)}>the body</option>}
          <option value="">nothing: lies in the rack</option>
          {SOLE_ANCHORS.filter((a) => def.anchors.includes(a)).map((a) => (
            <option key={a} value={`anchor ${a}`}>
              {ANCHOR_LABELS[a]}
            </option>
          ))}
          {def.anchors.includes('face') && <FaceOptions part={part} />}
          {def.anchors.includes('joint') && (
            <optgroup label="The wearer’s body">
              {jointsFor(part.hang).map((j) => (
                <option key={j} value={`anchor joint ${j}`}>
                  {jointWords(j)}
                </option>
              ))}
            </optgroup>
          )}
          {def.onParts && <Carriers doc={doc} part={part} />}
        </select>
      </Line>
      {def.anchors.includes('face') && !worn && <OnTheSkin part={part} />}
      {def.drawnIn === 'parts' && isPlaced(part) && (
        <div className="flex items-center gap-1.5 mt-1.5">
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight flex-1"
            aria-disabled={off}
            title="The wearer is drawn again after it, and stands before it"
            onClick={() => !off && !behind && commit(putBehind(doc, [part.id], ulid))}
            aria-pressed={behind}
          >
            Behind the wearer
          </button>
          <button
            type="button"
            className="btn btn-line btn-sm btn-tight flex-1"
            aria-disabled={off}
            title="In the main layer: only an occluder hides it"
            onClick={() => !off && behind && commit(putBefore(doc, [part.id]))}
            aria-pressed={!behind}
          >
            Before the wearer
          </button>
        </div>
      )}
      {isPlaced(part) && !worn && (
        <>
          <fieldset className="flex flex-wrap items-center gap-x-3 gap-y-1 mt-2 text-small" disabled={off}>
            <legend className="soft text-micro float-left mr-1">Follows</legend>
            {CHANNELS.map((c) => (
              <label key={c} className="flex items-center gap-1">
                <input type="checkbox" className="check" checked={part.follow[c]} onChange={(e) => follow({ [c]: e.target.checked })} />
                {c}
              </label>
            ))}
            <label className="flex items-center gap-1" title="Its up stays the world’s up, whatever it hangs in">
              <input
                type="checkbox"
                className="check"
                checked={part.follow.upright}
                onChange={(e) => follow({ upright: e.target.checked })}
              />
              upright
            </label>
          </fieldset>
          <PickLine
            label="Grows with"
            value={part.follow.size ?? ''}
            options={[
              { value: '', label: 'nothing' },
              ...MEASURES.map((value) => ({ value: value as string, label: measureWords(value) })),
            ]}
            locked={part.locked}
            onPick={(size) => follow({ size: (size || null) as Follow['size'] })}
          />
          <Line label="Lags, half-life s">
            <span className="inline-block w-[82px]">
              <NumField
                label="Lags, half-life"
                value={(part.follow.trail?.placeHalfLifeMs ?? 0) / 1000}
                dimension="time"
                unit="s"
                decimals={2}
                step={0.05}
                min={0}
                max={60}
                disabledWhy={off && 'Unlock the part first'}
                onChange={(s) => follow({ trail: lagging(s, part.follow.trail?.deadZoneM ?? 0) })}
              />
            </span>
          </Line>
          <Line label="Still within, mm">
            <span className="inline-block w-[82px]">
              <NumField
                label="Still within"
                value={part.follow.trail?.deadZoneM ?? 0}
                dimension="length"
                unit="mm"
                decimals={1}
                step={0.001}
                min={0}
                max={1}
                disabledWhy={off && 'Unlock the part first'}
                onChange={(m) => follow({ trail: lagging((part.follow.trail?.placeHalfLifeMs ?? 0) / 1000, m) })}
              />
            </span>
          </Line>
        </>
      )}
      {def.drawnIn !== null && (
        <PickLine
          label="Layer"
          value={part.layer}
          options={doc.orders.layers
            .map((id) => doc.layers[id])
            .filter((l) => l.kind === def.drawnIn)
            .map((l) => ({ value: l.id, label: layerName(l) }))}
          locked={part.locked}
          onPick={(layer) => commit(changePart(part.id, { layer }))}
        />
      )}
    </Card>
  );
}
