'use client';
import { useEffect, useState } from 'react';
import { simulateCapture } from '@/core/capture';
import { evaluate, worldVertices } from '@/core/evaluate';
import { type HiddenCause, type Mend, mendOf, type Sight, sayCause, whyHidden } from '@/core/fit';
import { type Form, type HeadTurn, POSES, PRESETS } from '@/core/form';
import type { Model } from '@/core/intake';
import { drawnModel, type ModelPart, type Piece } from '@/core/piece';
import { Flag } from '../kit';
import { usePiece } from '../piece/context';
import { Card } from './cards';
import { useFit } from './state';

interface Answer {
  cause: HiddenCause;
  mend: Mend | null;
}

/** Everything the question needs, for one turn of the head. */
function sightAt(
  piece: Piece,
  models: Readonly<Record<string, Model>>,
  part: ModelPart,
  form: Form,
  turn: HeadTurn,
  timeS: number,
  picture: { width: number; height: number },
): Sight | null {
  const model = models[drawnModel(piece, part.stockId) ?? ''];
  const capture = simulateCapture(turn, timeS);
  const state = evaluate(piece, models, capture);
  const staged = state.parts.find((p) => p.id === part.id);
  if (!model || !staged || !capture.head) return null;
  return {
    part,
    model,
    posed: worldVertices(staged, model),
    camera: capture.camera,
    widthPx: picture.width,
    heightPx: picture.height,
    head: capture.head,
    form,
    occluderOn: state.parts.some((p) => p.kind === 'occluder' && p.shown),
    headBreadthM: PRESETS[piece.form].headBreadth / 1000,
  };
}

/** “Why can't I see it?”: the one true cause and its mend in one press; after the press it asks again. */
export function SightCard({
  piece,
  models,
  part,
  form,
  turn,
  timeS,
}: {
  piece: Piece;
  models: Readonly<Record<string, Model>>;
  part: ModelPart;
  form: Form | null;
  turn: HeadTurn;
  timeS: number;
}) {
  const commit = usePiece((s) => s.commit);
  const takePose = useFit((s) => s.takePose);
  const [askedFor, setAskedFor] = useState<string | null>(null);
  const [answer, setAnswer] = useState<Answer | null>(null);
  useEffect(() => {
    if (askedFor !== part.id || !form) return setAnswer(null);
    const canvas = document.querySelector<HTMLCanvasElement>('[data-view="mirror"]');
    const picture = { width: canvas?.clientWidth || 320, height: canvas?.clientHeight || 560 };
    const here = sightAt(piece, models, part, form, turn, timeS, picture);
    if (!here) return setAnswer(null);
    const cause = whyHidden(here);
    const distance = (p: HeadTurn) => Math.abs(p.yawDeg - turn.yawDeg) + Math.abs(p.pitchDeg - turn.pitchDeg);
    const seenAt =
      cause.cause === 'behind-occluder'
        ? [...POSES]
            .sort((a, b) => distance(a) - distance(b))
            .filter((p) => {
              const there = sightAt(piece, models, part, form, p, timeS, picture);
              return there && whyHidden(there).cause === 'seen';
            })
        : [];
    const occluder = piece.rack.find((id) => piece.parts[id].kind === 'occluder' && piece.parts[id].visible) ?? null;
    setAnswer({ cause, mend: mendOf(here, cause, occluder, seenAt) });
  }, [askedFor, piece, models, part, form, turn, timeS]);
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
