'use client';
/** What the Fit screen shows and does, apart from the document: pose, windows of the plates, the hand, a drag under way. */
import { create } from 'zustand';
import { type HeadTurn, LOOK_ABOUT, POSES, type Pose, turnAt } from '@/core/form';
import type { Offset } from '@/core/piece';

export type Hand = 'place' | 'turn' | 'size';

interface FitState {
  turn: HeadTurn;
  poseId: string | null;
  timeS: number;
  playing: boolean;
  hatched: boolean;
  hand: Hand;
  linked: boolean;
  /** A placement that is being dragged and not yet in the document. */
  draft: { id: string; offset: Offset } | null;
  /** Shared by both plates: same scale, same up. */
  plates: { sideMm: number; foreMm: number; upMm: number; pxPerMm: number };
  takePose: (pose: Pose) => void;
  stepPose: (by: 1 | -1) => void;
  play: (on: boolean) => void;
  tick: (timeS: number) => void;
  set: (change: Partial<Pick<FitState, 'hatched' | 'hand' | 'linked' | 'draft' | 'plates'>>) => void;
}

const FRONT = POSES.find((p) => p.id === 'front') as Pose;
export const PLATES_AT_REST = { sideMm: 0, foreMm: 35, upMm: 0, pxPerMm: 1.45 };

export const useFit = create<FitState>((set, get) => ({
  turn: FRONT,
  poseId: FRONT.id,
  timeS: 0,
  playing: false,
  hatched: true,
  hand: 'place',
  linked: true,
  draft: null,
  plates: PLATES_AT_REST,
  takePose: (pose) => set({ turn: pose, poseId: pose.id, playing: false }),
  stepPose(by) {
    const at = POSES.findIndex((p) => p.id === get().poseId);
    const next = POSES[(at + by + POSES.length) % POSES.length];
    get().takePose(next);
  },
  play: (playing) => set(playing ? { playing, poseId: null } : { playing }),
  tick: (timeS) => set({ timeS, turn: turnAt(LOOK_ABOUT, timeS) }),
  set,
}));
