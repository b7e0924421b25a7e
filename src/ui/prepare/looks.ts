'use client';
/** What the right half of the comparison can show besides the model: the difference of two drawings, and the error on the surface. */
import { useEffect, useState } from 'react';
import { api } from '@/api';
import type { Heat } from '@/core/prepare';
import { THRESHOLDS } from '@/core/prepare/terms';
import { REFERENCE_M } from '@/core/prepare/viewing';
import type { HeatSurface } from '@/stage';
import { computing } from '@/worker/browser';
import { depthColors } from '../kit/depths';
import { say } from '../kit/say';

/** Shares of the greatest error that is not seen: where the tints of depth begin. */
export const DEPTHS = [0, 0.1, 0.25, 0.5, 1] as const;
/** The greatest distance that is not seen from so far, mm. */
export const unseenMm = (distanceM: number) => (THRESHOLDS.maxMm * distanceM) / REFERENCE_M;

export const depthOf = (gapMm: number, distanceM: number): number => DEPTHS.findLastIndex((d) => gapMm >= d * unseenMm(distanceM));

export function heatSurface({ positions, normals, triangles, gapMm }: Heat, distanceM: number): HeatSurface {
  const unseen = unseenMm(distanceM);
  return {
    positions,
    normals,
    triangles,
    colors: depthColors(
      gapMm,
      DEPTHS.map((d) => d * unseen),
    ),
  };
}

/** Asked for only while it is looked at. */
export function useHeat(
  piece: string,
  before: string,
  after: string | null,
  moved: readonly number[] | undefined,
  wanted: boolean,
): Heat | null {
  const [heat, setHeat] = useState<{ key: string; heat: Heat } | null>(null);
  const key = `${before} ${after} ${moved?.join()}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says what it depends on
  useEffect(() => {
    if (!wanted || !after || !moved || heat?.key === key) return;
    let gone = false;
    const glb = async (sha: string) => new Uint8Array(await (await fetch(api.modelUrl(piece, sha))).arrayBuffer());
    Promise.all([glb(before), glb(after)])
      .then(([a, b]) => computing.errorHeat(a, b, moved))
      .then(
        (made) => !gone && setHeat({ key, heat: made }),
        (e: Error) => !gone && say.error(e.message),
      );
    return () => {
      gone = true;
    };
  }, [key, wanted]);
  return heat?.key === key ? heat.heat : null;
}

/** How much a difference of brightness is enlarged: four times, so that one that is just seen is plain. */
const DOUBLINGS = 2;

/** Turns a drawing into its difference from another of the same size: black where both are alike. */
export function drawDifference(target: HTMLCanvasElement, other: HTMLCanvasElement): void {
  const x = target.getContext('2d');
  if (!x) return;
  x.globalCompositeOperation = 'difference';
  x.drawImage(other, 0, 0);
  x.globalCompositeOperation = 'destination-over';
  x.fillStyle = '#000';
  x.fillRect(0, 0, target.width, target.height);
  x.globalCompositeOperation = 'lighter';
  for (let i = 0; i < DOUBLINGS; i++) x.drawImage(target, 0, 0);
  x.globalCompositeOperation = 'source-over';
}
