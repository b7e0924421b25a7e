'use client';
/** Poses of the body that a figure's own bones can be held in; null: they are none of a figure's. */
import { useEffect, useState } from 'react';
import type { BodyPoseName } from '@/core/form/body';
import { type LocalPose, type Model, restPose } from '@/core/model';

export type WholePoses = ReadonlyMap<BodyPoseName, LocalPose>;

async function posesOf(model: Model): Promise<WholePoses | null> {
  const [{ movedFigure }, { BODY_POSES }] = await Promise.all([import('@/core/rig/motion/figure'), import('@/core/form/body/pose')]);
  try {
    const figure = movedFigure(model);
    const names = Object.keys(BODY_POSES) as BodyPoseName[];
    return new Map(
      names.map((name) => {
        const pose = restPose(model);
        for (const [node, turn] of figure.apply(figure.stanceIn(BODY_POSES[name])).turns) pose.trs.set(turn.toArray(), node * 10 + 3);
        return [name, pose];
      }),
    );
  } catch {
    // what it lacks is told where its bones are
    return null;
  }
}

/** @param wanted they are worked out only then */
export function useWholePoses(model: Model | null, wanted: boolean): WholePoses | null {
  const [poses, setPoses] = useState<{ of: Model; list: WholePoses | null } | null>(null);
  const known = poses?.of === model;
  useEffect(() => {
    if (!model || !wanted || known) return;
    let gone = false;
    void posesOf(model).then((list) => !gone && setPoses({ of: model, list }));
    return () => {
      gone = true;
    };
  }, [model, wanted, known]);
  return known ? (poses?.list ?? null) : null;
}
