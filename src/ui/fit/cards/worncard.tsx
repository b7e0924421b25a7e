'use client';
/** A garment on the body: its bones go with the wearer's joints; what of it is not drawn; what of the wearer is drawn again after it. */
import { useEffect, useMemo, useState } from 'react';
import { ulid } from 'ulid';
import { showAgain, shownAgain, type WornPoseRow, type WornReport, wear } from '@/core/fit';
import { BODY_STRIP } from '@/core/form';
import type { BodyAsk, BodySkeleton } from '@/core/form/body';
import type { Model } from '@/core/model';
import { changePart, drawnModel, type PartOf } from '@/core/piece';
import { counted } from '@/core/words/counted';
import { BODY_AREAS, type BodyArea, HUMANOID_SETS, jointWords } from '@/core/words/humanoid';
import { forms } from '@/worker/browser';
import { Flag, lazily } from '../../kit';
import { say } from '../../kit/say';
import { useDocument, usePiece } from '../../piece/context';
import { POSE_WORDS } from '../../piece/posewords';
import { useShownBody } from '../../piece/wearers';
import { useFitModels, useFitRun, useFitRunRef } from '../run';
import { PLATES_OF_BODY, useFit } from '../state';
import { Card } from './card';

const BareSheet = lazily(() => import('./baresheet'), 'BareSheet');

type Worn = NonNullable<PartOf<'model'>['worn']>;

/** Which of a garment's bones is which of a body's. What tells them is a craft of its own, fetched when it is asked. */
async function toldOf(model: Model, body: BodySkeleton): Promise<Worn> {
  const [{ garmentBones }, { coveredAreas }] = await Promise.all([import('@/core/rig'), import('@/core/fit')]);
  const bones = Object.fromEntries([...garmentBones(model, body)].map(([n, bone]) => [model.nodes[n].name, bone]));
  return { bones, hides: [], under: coveredAreas(model, bones), bare: null };
}

const MATTES = [
  ['face', 'Face'],
  ['hands', 'Hands'],
] as const;

export function WornCard({ part }: { part: PartOf<'model'> }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const model = useFitModels()[drawnModel(doc, part.stock) ?? ''];
  const set = useFit((s) => s.set);
  const run = useFitRunRef();
  const [asking, setAsking] = useState(false);
  if (!model || doc.stock[part.stock]?.kind !== 'model') return null;
  const { worn, locked } = part;
  const bare = model.skins.length === 0;
  const put = async () => {
    if (locked || bare || asking) return;
    setAsking(true);
    const told = await toldOf(model, run.current.show.body.skeleton).finally(() => setAsking(false));
    if (Object.keys(told.bones).length === 0)
      return say.error(
        `None of the bones of ${part.name} could be told for a body’s: neither by name nor by their tree. Say in Rig which is which, then come back.`,
      );
    if (commit(wear(doc, part.id, told))) set({ plates: PLATES_OF_BODY });
  };
  return (
    <Card
      title="On the body"
      extra={
        worn && (
          <button type="button" className="link" aria-disabled={locked} onClick={() => !locked && commit(wear(doc, part.id, null))}>
            take it off
          </button>
        )
      }
    >
      {worn ? (
        <Fitted part={part} worn={worn} model={model} />
      ) : (
        <>
          <p className="text-micro soft mb-1.5">
            {bare
              ? 'It has no bones: it hangs as one piece. In Rig it takes bones and weights from the body it lies on.'
              : 'Its bones go with the wearer’s joints, whatever pose it was made in.'}
          </p>
          <button
            type="button"
            className="btn btn-line btn-sm w-full"
            aria-disabled={locked || bare || asking}
            title={locked ? 'Unlock the part first' : bare ? 'It has no bones' : undefined}
            onClick={() => void put()}
          >
            Let the body wear it
          </button>
        </>
      )}
    </Card>
  );
}

function Fitted({ part, worn, model }: { part: PartOf<'model'>; worn: Worn; model: Model }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const { locked } = part;
  const report = useReport(model, worn, useFitRun().show.body.skeleton);
  const on = useShownBody();
  const [paints, setPaints] = useState(false);
  const put = (field: 'hides' | 'under', area: BodyArea, on: boolean) =>
    commit(changePart(part.id, { worn: { ...worn, [field]: BODY_AREAS.filter((a) => (a === area ? on : worn[field].includes(a))) } }));
  return (
    <>
      {report && (
        <Told
          report={report}
          locked={locked}
          onTake={(node, bone) => {
            const { [node]: _, ...bones } = worn.bones;
            commit(changePart(part.id, { worn: { ...worn, bones: bone === null ? bones : { ...bones, [node]: bone } } }));
          }}
        />
      )}
      <Areas
        title="Left out of it"
        about="Where nothing of it is drawn, the wearer’s own is seen"
        chosen={worn.hides}
        locked={locked}
        onPut={(area, on) => put('hides', area, on)}
      />
      <Areas
        title="Body left out under it"
        about="Where it lies over the body all round, the body’s occluder would cut into it"
        chosen={worn.under}
        locked={locked}
        onPut={(area, on) => put('under', area, on)}
      />
      <button
        type="button"
        className="btn btn-line btn-sm w-full mt-2"
        title="Vertex by vertex: where cloth lies over, or by strokes"
        onClick={() => setPaints(true)}
      >
        {worn.bare === null ? 'Paint where it hides nothing' : 'Painted by hand: change it'}
      </button>
      {paints && <BareSheet part={part} worn={worn} model={model} onClose={() => setPaints(false)} />}
      <OverPoses key={JSON.stringify(worn)} model={model} worn={worn} on={on} />
      <fieldset className="flex flex-wrap gap-x-3 gap-y-1 mt-2 text-small">
        <legend
          className="soft text-micro float-left mr-1"
          title="The camera’s picture, inside their matte, before everything of this layer"
        >
          Shown before it
        </legend>
        {MATTES.map(([name, label]) => (
          <label key={name} className="flex items-center gap-1">
            <input
              type="checkbox"
              className="check"
              checked={shownAgain(doc, part.layer, name) !== null}
              onChange={() => commit(showAgain(doc, part.layer, name, ulid))}
            />
            {label}
          </label>
        ))}
      </fieldset>
    </>
  );
}

function Areas({
  title,
  about,
  chosen,
  locked,
  onPut,
}: {
  title: string;
  about: string;
  chosen: readonly BodyArea[];
  locked: boolean;
  onPut: (area: BodyArea, on: boolean) => void;
}) {
  return (
    <fieldset className="mt-2 text-small" disabled={locked}>
      <legend className="soft text-micro" title={about}>
        {title}
      </legend>
      <span className="grid gap-x-1 gap-y-[3px] mt-[2px]" style={{ gridTemplateColumns: 'repeat(4, auto)' }}>
        {BODY_AREAS.map((area) => (
          <label key={area} className="flex items-center gap-1">
            <input type="checkbox" className="check" checked={chosen.includes(area)} onChange={(e) => onPut(area, e.target.checked)} />
            {area}
          </label>
        ))}
      </span>
    </fieldset>
  );
}

function useReport(model: Model, worn: Worn, body: BodySkeleton): WornReport | null {
  const [report, setReport] = useState<WornReport | null>(null);
  useEffect(() => {
    let gone = false;
    void import('@/core/fit').then((fit) => !gone && setReport(fit.wornReport(model, worn, body)));
    return () => {
      gone = true;
    };
  }, [model, worn, body]);
  return report;
}

/** Deeper, and of more of it, is a fault that is seen: mm, and a share. */
const DEEP_MM = 3;
const MUCH = 0.05;

function OverPoses({ model, worn, on }: { model: Model; worn: Worn; on: BodyAsk }) {
  const [rows, setRows] = useState<WornPoseRow[] | null>(null);
  const [busy, setBusy] = useState(false);
  const { takePose } = useFit.getState();
  const poseId = useFit((s) => s.poseId);
  const measure = async () => {
    if (busy) return;
    setBusy(true);
    await forms
      .wornOverPoses(model, worn, on)
      .then(setRows, (e: Error) => say.error(e.message))
      .finally(() => setBusy(false));
  };
  if (!rows)
    return (
      <button
        type="button"
        className="btn btn-line btn-sm w-full mt-2"
        aria-disabled={busy}
        title="How deep it lies under the skin, and how far it is drawn, in each pose of the body"
        onClick={() => void measure()}
      >
        {busy ? 'Every pose is measured …' : 'Measure it over the poses'}
      </button>
    );
  return (
    <table className="w-full text-micro mt-2" aria-label="Over the poses">
      <thead>
        <tr className="soft text-left">
          <th className="font-normal">Pose</th>
          <th className="font-normal text-right" title="Share of its places that lie under the skin">
            under
          </th>
          <th className="font-normal text-right" title="Of those, nineteen in twenty lie no deeper">
            by mm
          </th>
          <th className="font-normal text-right" title="Longest edge, against the same edge at rest">
            edge
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => {
          const pose = BODY_STRIP.find((p) => p.body === r.pose && p.yawDeg === 0);
          return (
            <tr key={r.pose} className="rule-b">
              <td>
                <button
                  type="button"
                  className="link whitespace-nowrap inline-flex items-center min-h-[26px]"
                  aria-pressed={pose !== undefined && poseId === pose.id}
                  onClick={() => takePose(pose ?? { id: r.pose, label: r.pose, yawDeg: 0, pitchDeg: 0, rollDeg: 0, body: r.pose })}
                >
                  {POSE_WORDS[r.pose]}
                </button>
              </td>
              <td className="num text-right whitespace-nowrap">
                <span className="inline-flex items-center gap-1">
                  {r.deepMm >= DEEP_MM && r.under >= MUCH && <Flag kind="note" size={12} />}
                  {(r.under * 100).toFixed(0)} %
                </span>
              </td>
              <td className="num text-right">{r.deepMm.toFixed(1)}</td>
              <td className="num text-right">×{r.stretch.toFixed(2)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Turned by less than this is as the body stands. */
const TURNED_DEG = 8;
/** Longer or shorter by more than this is worth a word. */
const LONG = 0.15;

function Told({
  report: { rows, missing, armsDeg },
  locked,
  onTake,
}: {
  report: WornReport;
  locked: boolean;
  onTake: (node: string, bone: string | null) => void;
}) {
  const on = rows.filter((r) => r.bone !== null);
  const own = rows.length - on.length;
  const turned = on.filter((r) => (r.turnedDeg ?? 0) >= TURNED_DEG).length;
  const stance = useMemo(() => {
    if (armsDeg === null) return null;
    return armsDeg < 15 ? 'level, a T' : armsDeg < 52 ? 'between, an A' : armsDeg < 66 ? 'half down' : 'down';
  }, [armsDeg]);
  return (
    <details className="text-small">
      <summary className="cursor-pointer">
        <span className="num">{on.length}</span> {on.length === 1 ? 'bone' : 'bones'} on the body’s joints
        {own > 0 && (
          <>
            , <span className="num">{own}</span> of its own
          </>
        )}
        {turned > 0 && <span className="block soft text-micro">{counted(turned, 'bone')} turned at rest: undone</span>}
        {stance && (
          <span className="block soft text-micro">
            arms at rest {Math.round(Math.abs(armsDeg as number))}° {(armsDeg as number) < 0 ? 'above' : 'below'} level: {stance}
          </span>
        )}
      </summary>
      <ul className="grid gap-y-[2px] mt-1.5 max-h-[180px] overflow-y-auto text-micro" aria-label="Bones of the garment">
        {rows.map((r) => (
          <li key={r.node} className="flex items-center gap-1.5 min-w-0">
            <span className="truncate min-w-0 flex-1" title={r.node}>
              {r.node}
            </span>
            <select
              className="field h-[24px]! px-1! py-0! text-micro! soft"
              style={{ width: 108 }}
              aria-label={`What ${r.node} goes with`}
              value={r.bone ?? ''}
              disabled={locked}
              onChange={(e) => onTake(r.node, e.target.value || null)}
            >
              <option value="">its own</option>
              {(r.bone === null || HUMANOID_SETS[22].includes(r.bone) ? HUMANOID_SETS[22] : [...HUMANOID_SETS[22], r.bone]).map((b) => (
                <option key={b} value={b}>
                  {jointWords(b)}
                </option>
              ))}
            </select>
            <span className="num soft w-[44px] text-right whitespace-nowrap">
              {r.turnedDeg !== null && r.turnedDeg >= TURNED_DEG && `${Math.round(r.turnedDeg)}°`}
              {r.long !== null && Math.abs(r.long - 1) > LONG && ` ×${r.long.toFixed(2)}`}
            </span>
          </li>
        ))}
      </ul>
      {missing.length > 0 && (
        <p className="soft text-micro mt-1.5">
          Not in it: {missing.map(jointWords).join(', ')}; what would hang there goes with the bone above.
        </p>
      )}
    </details>
  );
}
