'use client';
import { ListVideo, StepBack, StepForward } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { BODY_CAMERA } from '@/core/capture';
import { TAKES, type Take } from '@/core/form';
import { hasBody } from '@/core/piece';
import { wearerCapture } from '@/core/run';
import type { ToldCell } from '@/worker/browser';
import { Choice, Flag } from '../kit';
import { useDocument } from '../piece/context';
import type { Wearer } from '../piece/wearers';
import { clearanceWords, leakWords } from './clearance';
import { drawOneByOne } from './onebyone';
import { PlayButton, usePlaying } from './playing';
import { useFitRun } from './run';
import { handMoves, heldIn, type StripOf, stripKind, stripOf, useFit } from './state';
import { faultOf, useStripNumbers } from './stripnumbers';
import { STRIP_PX } from './stripsize';
import { ownTakes, takeNow } from './takechoice';

const SETTLE_MS = 350;
/** Closer than the Mirror: a thumbnail shows the head. */
const THUMB_CAMERA = { positionM: [0, 0, 0.95] as [number, number, number], targetM: [0, 0, 0] as [number, number, number], fovDeg: 15.5 };
/** And all of a body. */
const THUMB_BODY = { ...BODY_CAMERA, fovDeg: 24 };

const STRIPS: readonly { value: StripOf; label: string; title: string }[] = [
  { value: 'turns', label: 'poses', title: 'How the wearer turns' },
  { value: 'faces', label: 'faces', title: 'What the face does' },
];

const asOption = ({ id, label }: Take) => (
  <option key={id} value={id}>
    {label}
  </option>
);

/** Key poses side by side, each a rendering; play runs the take. */
export function PoseStrip({ wearer }: { wearer: Wearer | null }) {
  const { runner, show } = useFitRun();
  const take = useFit((s) => s.take);
  const playing = useFit((s) => s.playing);
  const poseId = useFit((s) => s.poseId);
  const timeS = useFit((s) => s.timeS);
  const asked = useFit((s) => s.strip);
  const panel = useFit((s) => s.panel);
  const doc = useDocument();
  const own = ownTakes(doc);
  // what is played follows its keys, and leaves with them
  const now = takeNow(doc, take);
  useEffect(() => {
    if (now !== take) useFit.getState().retake(now);
  }, [now, take]);
  const strip = stripOf(show.piece, asked);
  const { stepPose, takePose, chooseTake, set } = useFit.getState();
  const canvases = useRef(new Map<string, HTMLCanvasElement>());
  const moving = useFit(handMoves);
  const told = useStripNumbers(show, moving || playing || !wearer);
  useEffect(() => {
    if (!wearer || moving || playing) return;
    return drawOneByOne(
      SETTLE_MS,
      () => stripOf(show.piece, asked),
      (pose) => canvases.current.get(pose.id),
      async (stage, canvas, pose) => {
        stage.setWearer(wearer);
        const near = pose.face || !hasBody(show.piece);
        const capture = wearerCapture(show.piece, heldIn(pose), 0, near ? THUMB_CAMERA : THUMB_BODY);
        await stage.drawStill(canvas, runner.still(capture), { width: 108, height: 64, ratio: 2 });
        return true;
      },
    );
  }, [show, runner, wearer, moving, playing, asked]);
  usePlaying();
  return (
    <section className="border-t border-[color:var(--hair-strong)] flex flex-col" aria-label="Pose strip" style={{ height: STRIP_PX }}>
      <div className="flex items-center gap-1.5 h-[34px] px-2.5">
        <h2 className="text-[14px] font-semibold mr-1.5">Pose strip</h2>
        <Choice label="Shown in the strip" options={STRIPS} value={stripKind(show.piece, asked)} onChange={(s) => set({ strip: s })} />
        <PlayButton />
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label="Pose before"
          title="Pose before ( ; )"
          onClick={() => stepPose(-1, strip)}
        >
          <StepBack className="ico" />
        </button>
        <button
          type="button"
          className="btn btn-bare btn-sm btn-icon"
          aria-label="Pose after"
          title="Pose after (apostrophe)"
          onClick={() => stepPose(1, strip)}
        >
          <StepForward className="ico" />
        </button>
        <span className="text-small soft whitespace-nowrap flex items-center gap-1">
          <select
            className="field h-[26px]! px-1! text-small mr-1.5"
            style={{ width: 160, display: 'inline-block' }}
            aria-label="Take"
            value={take.id}
            onChange={(e) => chooseTake([...own, ...TAKES].find((t) => t.id === e.target.value) ?? take)}
          >
            {own.length > 0 && <optgroup label="Of this piece">{own.map(asOption)}</optgroup>}
            {own.length > 0 ? <optgroup label="Of every piece">{TAKES.map(asOption)}</optgroup> : TAKES.map(asOption)}
          </select>
          <button
            type="button"
            className="btn btn-bare btn-sm btn-icon"
            aria-label="Keys of the take"
            title="Keys of the take; capture logs"
            aria-pressed={panel === 'takes'}
            onClick={() => set({ panel: panel === 'takes' ? null : 'takes' })}
          >
            <ListVideo className="ico" />
          </button>
          <span className="num" data-take-time={timeS.toFixed(2)}>
            {(timeS % take.seconds).toFixed(1)}
          </span>{' '}
          of <span className="num">{take.seconds.toFixed(1)}</span> s
        </span>
      </div>
      <ol className="grid px-2.5 gap-x-1.5" style={{ gridTemplateColumns: `repeat(${strip.length}, minmax(0, 108px))` }}>
        {strip.map((p) => (
          <li key={p.id}>
            <button
              type="button"
              className={`block relative w-full h-[64px] water border cursor-pointer ${poseId === p.id ? 'indexed border-[color:var(--brass)]' : 'border-[color:var(--hair-strong)]'}`}
              aria-current={poseId === p.id ? 'true' : undefined}
              aria-label={`Pose ${p.label}`}
              onClick={() => takePose(p)}
            >
              <canvas
                className="absolute inset-0 w-full h-full object-cover"
                data-view={`pose-${p.id}`}
                ref={(c) => {
                  if (c) canvases.current.set(p.id, c);
                }}
              />
            </button>
            <span className={`flex items-center gap-1 text-micro leading-[15px] px-[1px] ${poseId === p.id ? 'font-semibold' : ''}`}>
              <span className="truncate min-w-0">{p.label}</span>
              <Fault told={told.get(p.id)} />
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** What is wrong with the selected part in a pose; nothing where nothing is. */
function Fault({ told }: { told: ToldCell | undefined }) {
  const fault = told && faultOf(told);
  if (!fault) return null;
  return (
    <span
      className="flex items-center gap-0.5 ml-auto num shrink-0 whitespace-nowrap"
      title={[clearanceWords(told), leakWords(told)].filter(Boolean).join('; ')}
    >
      <Flag kind="warning" size={10} />
      {fault}
    </span>
  );
}
