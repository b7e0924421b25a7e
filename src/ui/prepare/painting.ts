'use client';
/** Painting where detail stays: dabs of one simplify step; and what of the model settings can name. */
import { useMemo, useState } from 'react';
import { type ModelItem, type RecipeStep, stepsThat } from '@/core/piece';
import { usePiece } from '../piece/context';
import type { Brush } from './compare';
import type { ModelParts, Painting } from './settingtypes';

const PLACES = stepsThat('place');
const MOST_DABS = 2_000;

export function useParts(item: ModelItem): ModelParts & { diagonalMm: number } {
  const assets = usePiece((s) => s.assets);
  return useMemo(() => {
    const facts = assets.find((a) => a.original === item.original && a.model === item.model)?.facts;
    if (facts?.kind !== 'model') return { meshes: [], diagonalMm: 100 };
    const [ax, ay, az, bx, by, bz] = facts.boxM;
    return { meshes: facts.meshList, diagonalMm: Math.hypot(bx - ax, by - ay, bz - az) * 1000 || 100 };
  }, [assets, item]);
}

/** Adds a dab unless one lies near already. */
export function addDab(
  detail: Extract<RecipeStep, { step: 'simplify' }>['settings']['detail'],
  atM: [number, number, number],
  radiusM: number,
  weight: number,
) {
  const near = detail.some((d) => Math.hypot(d.atM[0] - atM[0], d.atM[1] - atM[1], d.atM[2] - atM[2]) < radiusM / 2 && d.weight === weight);
  return near || detail.length >= MOST_DABS ? detail : [...detail, { atM, radiusM, weight }];
}

export function usePainting(
  steps: readonly RecipeStep[],
  setSteps: (steps: RecipeStep[]) => void,
  diagonalMm: number,
): { painting: (id: string) => Painting; brush: Brush | null } {
  const [on, setOn] = useState<string | null>(null);
  const [brush, setBrush] = useState<{ radiusMm: number | null; weight: number }>({ radiusMm: null, weight: 4 });
  const radiusMm = brush.radiusMm ?? Number((diagonalMm * 0.08).toPrecision(2));
  const at = steps.findIndex((s) => s.id === on && s.step === 'simplify' && s.on);
  const step = at >= 0 ? steps[at] : null;
  const movedLater = (from: number) => steps.slice(from + 1).some((s) => s.on && PLACES.has(s.step));
  const painting = (id: string): Painting => {
    const i = steps.findIndex((s) => s.id === id);
    const why = !steps[i]?.on
      ? 'Switch the step on first'
      : movedLater(i)
        ? 'A step after it moves the model: put that one before it, so that what is painted stays where it is'
        : null;
    return {
      on: on === id && why === null,
      why,
      radiusMm,
      weight: brush.weight,
      toggle: () => setOn(on === id ? null : id),
      set: (change) => setBrush({ ...brush, ...change }),
    };
  };
  if (step?.step !== 'simplify' || movedLater(at)) return { painting, brush: null };
  return {
    painting,
    brush: {
      dabs: step.settings.detail,
      onDab: (atM) => {
        const detail = addDab(step.settings.detail, atM, radiusMm / 1000, brush.weight);
        if (detail !== step.settings.detail)
          setSteps(steps.map((s) => (s.id === step.id ? ({ ...step, settings: { ...step.settings, detail } } as RecipeStep) : s)));
      },
    },
  };
}
