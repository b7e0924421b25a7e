'use client';
import { useEffect, useRef, useState } from 'react';
import { BufferAttribute, Matrix4 } from 'three';
import { type Bent, type Blind, bentBody, bentForm, type HiddenCause, hidingOf, type Mend, mendOf, type Sight, sayCause } from '@/core/fit';
import { growForm, type HeadTurn, type Pose, regionIndices } from '@/core/form';
import { offsetMatrix } from '@/core/math';
import { measuresOf, type Part, shownAsk } from '@/core/piece';
import { type Assets, type Held, type Runner, type Show, type StagePart, wearerCapture, worldShapes } from '@/core/run';
import { computing } from '@/worker/browser';
import { Flag } from '../../kit';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';
import type { Wearer } from '../../piece/wearers';
import { useFitRun } from '../run';
import { handMoves, stripOf, useFit } from '../state';
import { Card } from './card';

interface Answer {
  cause: HiddenCause;
  mend: Mend | null;
}

/** What an occluder hides with, in the head's frame: of a body without what garments lie over. */
function blindOf(
  { id, shape, ...staged }: StagePart,
  form: Wearer['form'],
  body: Wearer['body'],
  bent: Bent,
  toHead: Matrix4,
  assets: Assets,
): Blind {
  if (shape?.type !== 'form') {
    const positions: number[] = [];
    const indices: number[] = [];
    for (const s of worldShapes({ ...staged, id, shape }, assets)) {
      const from = positions.length / 3;
      for (const x of s.positions) positions.push(x);
      for (const v of s.triangles) indices.push(from + v);
    }
    const own = Float32Array.from(positions);
    new BufferAttribute(own, 3).applyMatrix4(toHead);
    return { part: id, ofForm: false, positions: own, indices: Uint32Array.from(indices) };
  }
  const positions = new Float32Array(bent.positions.length);
  growForm(bent.positions, bent.normals, shape.growMm, shape.widenMm, positions);
  const all = regionIndices(body ?? form, shape.region);
  return { part: id, ofForm: true, positions, indices: body ? hidingOf({ ...body, indices: all }, shape.without, shape.bare) : all };
}

/** Everything the question needs, for one pose of the wearer. */
function sightAt(
  run: { runner: Runner; show: Show },
  part: Part,
  wearer: Wearer,
  pose: Held,
  timeS: number,
  picture: { width: number; height: number },
): Sight | null {
  const { piece, assets } = run.show;
  const capture = wearerCapture(piece, pose, timeS);
  const state = run.runner.still(capture);
  const staged = state.parts.find((p) => p.id === part.id);
  // a body that is still being made may well hide it
  if (!staged || !capture.head || !state.form || (state.form.body && !wearer.body)) return null;
  const bone = (m: number[]) => new Matrix4().fromArray(m);
  const body = state.form.body ? wearer.body : null;
  const bent = body ? bentBody(body, state.form, wearer.form) : bentForm(wearer.form, state.form);
  const toHead = new Matrix4().fromArray(state.form.head).invert();
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
    form: { positions: bent.positions, indices: (body ?? wearer.form).indices },
    hides: state.parts.flatMap((p) =>
      p.shown && p.occludes && p.layer === part.layer ? blindOf(p, wearer.form, body, bent, toHead, assets) : [],
    ),
    headBreadthM: measuresOf(shownAsk(piece)).headBreadth / 1000,
  };
}

/** After a part was chosen, and after an edit, so long until it is looked at. */
const REST_MS = 300;

/**
 * “Why can't I see it?”: the one true cause and its mend in one press; after the press it asks again. Of a part that was just chosen or
 * hung it is told without being asked, where there is something to tell.
 */
export function SightCard({ part, wearer }: { part: Part; wearer: Wearer | null }) {
  const run = useFitRun();
  const pose = useFit((s) => s.pose);
  const timeS = useFit((s) => s.timeS);
  const busy = useFit((s) => s.playing || handMoves(s));
  const commit = usePiece((s) => s.commit);
  const takePose = useFit((s) => s.takePose);
  const [askedFor, setAskedFor] = useState<string | null>(null);
  const [answer, setAnswer] = useState<(Answer & { of: string }) | null>(null);
  // looked at by itself once a part: what one saw and closed does not come back
  const looked = useRef<string | null>(null);
  const asked = askedFor === part.id;
  const closed = looked.current === part.id && !asked && answer?.of !== part.id;
  useEffect(() => {
    if (!wearer || busy || closed) return;
    let gone = false;
    const look = async () => {
      const canvas = document.querySelector<HTMLCanvasElement>('[data-view="mirror"]');
      const picture = { width: canvas?.clientWidth || 320, height: canvas?.clientHeight || 560 };
      const here = sightAt(run, part, wearer, pose, timeS, picture);
      if (!here) return setAnswer(null);
      const cause = await computing.whyHidden(here);
      if (gone) return;
      looked.current = part.id;
      if (cause.cause === 'seen' && !asked) return setAnswer(null);
      const { yawDeg, pitchDeg } = pose.head;
      const distance = (p: HeadTurn) => Math.abs(p.yawDeg - yawDeg) + Math.abs(p.pitchDeg - pitchDeg);
      const seenAt: Pose[] = [];
      if (cause.cause === 'behind-occluder' || cause.cause === 'behind-matte')
        for (const p of [...stripOf(run.show.piece, useFit.getState().strip)].sort((a, b) => distance(a) - distance(b))) {
          const there = sightAt(run, part, wearer, { head: p, ...(p.body && { body: { pose: p.body } }) }, timeS, picture);
          if (there && (await computing.whyHidden(there)).cause === 'seen') seenAt.push(p);
          if (gone) return;
        }
      setAnswer({ of: part.id, cause, mend: mendOf(here, cause, seenAt) });
    };
    const timer = setTimeout(() => void look().catch((e: Error) => !gone && say.error(e.message)), asked ? 0 : REST_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [run, part, wearer, pose, timeS, busy, asked, closed]);
  const shown = answer?.of === part.id ? answer : null;
  const press = (mend: Mend) => (mend.act.kind === 'edit' ? commit(mend.act.edit) : takePose(mend.act.pose));
  return (
    <Card
      title="In sight"
      extra={
        shown && (
          <button
            type="button"
            className="link"
            onClick={() => {
              setAskedFor(null);
              setAnswer(null);
            }}
          >
            close
          </button>
        )
      }
    >
      {shown ? (
        <div
          className="grid gap-x-2 gap-y-1.5 text-small leading-4"
          style={{ gridTemplateColumns: '16px 1fr' }}
          role="status"
          data-cause={shown.cause.cause}
        >
          <Flag kind={shown.cause.cause === 'seen' ? 'done' : 'warning'} size={15} />
          <span>{sayCause(shown.cause)}</span>
          {shown.mend && (
            <>
              <span />
              <span>
                <button type="button" className="fix fix-main" onClick={() => shown.mend && press(shown.mend)}>
                  {shown.mend.label}
                </button>
              </span>
            </>
          )}
        </div>
      ) : (
        <button type="button" className="btn btn-line btn-sm btn-tight w-full" aria-disabled={!wearer} onClick={() => setAskedFor(part.id)}>
          Why can’t I see it?
        </button>
      )}
    </Card>
  );
}
