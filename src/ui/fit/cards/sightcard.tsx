'use client';
import { useEffect, useState } from 'react';
import { Matrix4 } from 'three';
import { simulateCapture, type WearerPose } from '@/core/capture';
import { type HiddenCause, type Mend, mendOf, type Sight, sayCause, whyHidden } from '@/core/fit';
import { bendForm, type Form, type HeadTurn, POSES, PRESETS, SKELETONS } from '@/core/form';
import { offsetMatrix } from '@/core/math';
import { hides, type Part, rackOf } from '@/core/piece';
import { type Runner, type Show, worldShapes } from '@/core/run';
import { Flag } from '../../kit';
import { usePiece } from '../../piece/context';
import { useFitRun } from '../run';
import { useFit } from '../state';
import { Card } from './card';

interface Answer {
  cause: HiddenCause;
  mend: Mend | null;
}

/** Everything the question needs, for one pose of the wearer. */
function sightAt(
  run: { runner: Runner; show: Show },
  part: Part,
  form: Form,
  pose: WearerPose,
  timeS: number,
  picture: { width: number; height: number },
): Sight | null {
  const { piece, assets } = run.show;
  const size = piece.settings.form;
  const capture = simulateCapture(pose, SKELETONS[size], timeS);
  const state = run.runner.still(capture);
  const staged = state.parts.find((p) => p.id === part.id);
  if (!staged || !capture.head || !state.form) return null;
  const vertices = { positions: new Float32Array(form.positions.length), normals: new Float32Array(form.positions.length) };
  const bone = (m: number[]) => new Matrix4().fromArray(m);
  bendForm(form, { head: bone(state.form.head), neck: bone(state.form.neck), bust: bone(state.form.bust) }, vertices);
  return {
    part,
    piece,
    shapes: worldShapes(staged, assets),
    found: staged.found,
    camera: capture.camera,
    widthPx: picture.width,
    heightPx: picture.height,
    frame: bone(staged.matrix).multiply(offsetMatrix(part.offset).invert()).toArray(),
    head: capture.head,
    form: { positions: vertices.positions, indices: form.indices },
    occluderOn: state.parts.some((p) => p.shape?.type === 'form' && p.shown && p.layer === part.layer),
    headBreadthM: PRESETS[size].headBreadth / 1000,
  };
}

/** “Why can't I see it?”: the one true cause and its mend in one press; after the press it asks again. */
export function SightCard({ part, form }: { part: Part; form: Form | null }) {
  const run = useFitRun();
  const pose = useFit((s) => s.pose);
  const timeS = useFit((s) => s.timeS);
  const commit = usePiece((s) => s.commit);
  const takePose = useFit((s) => s.takePose);
  const [askedFor, setAskedFor] = useState<string | null>(null);
  const [answer, setAnswer] = useState<Answer | null>(null);
  useEffect(() => {
    if (askedFor !== part.id || !form) return setAnswer(null);
    const canvas = document.querySelector<HTMLCanvasElement>('[data-view="mirror"]');
    const picture = { width: canvas?.clientWidth || 320, height: canvas?.clientHeight || 560 };
    const here = sightAt(run, part, form, pose, timeS, picture);
    if (!here) return setAnswer(null);
    const cause = whyHidden(here);
    const { yawDeg, pitchDeg } = pose.head;
    const distance = (p: HeadTurn) => Math.abs(p.yawDeg - yawDeg) + Math.abs(p.pitchDeg - pitchDeg);
    const seenAt =
      cause.cause === 'behind-occluder' || cause.cause === 'behind-matte'
        ? [...POSES]
            .sort((a, b) => distance(a) - distance(b))
            .filter((p) => {
              const there = sightAt(run, part, form, { head: p }, timeS, picture);
              return there && whyHidden(there).cause === 'seen';
            })
        : [];
    const { piece } = run.show;
    const occluder = rackOf(piece).find((p) => hides(p) && p.visible && p.layer === part.layer)?.id ?? null;
    setAnswer({ cause, mend: mendOf(here, cause, occluder, seenAt) });
  }, [askedFor, run, part, form, pose, timeS]);
  const press = (mend: Mend) => (mend.act.kind === 'edit' ? commit(mend.act.edit) : takePose(mend.act.pose));
  return (
    <Card
      title="In sight"
      extra={
        answer && (
          <button type="button" className="link" onClick={() => setAskedFor(null)}>
            close
          </button>
        )
      }
    >
      {answer ? (
        <div
          className="grid gap-x-2 gap-y-1.5 text-small leading-4"
          style={{ gridTemplateColumns: '16px 1fr' }}
          role="status"
          data-cause={answer.cause.cause}
        >
          <Flag kind={answer.cause.cause === 'seen' ? 'done' : 'warning'} size={15} />
          <span>{sayCause(answer.cause)}</span>
          {answer.mend && (
            <>
              <span />
              <span>
                <button type="button" className="fix fix-main" onClick={() => answer.mend && press(answer.mend)}>
                  {answer.mend.label}
                </button>
              </span>
            </>
          )}
        </div>
      ) : (
        <button type="button" className="btn btn-line btn-sm btn-tight w-full" aria-disabled={!form} onClick={() => setAskedFor(part.id)}>
          Why can’t I see it?
        </button>
      )}
    </Card>
  );
}
