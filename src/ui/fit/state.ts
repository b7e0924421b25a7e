'use client';
/** What the Fit screen shows and does, apart from the document: pose, take, windows of the plates, the hand, a drag under way. */
import { create } from 'zustand';
import type { LensView } from '@/core/capture';
import { BODY_STRIP, type Expression, FACE_STRIP, type HeadTurn, LOOK_ABOUT, POSES, type Pose, poseAtTime, type Take } from '@/core/form';
import { type FormRow, goesWithFace, hasBody, type Offset, type Piece } from '@/core/piece';
import type { Held } from '@/core/run';
import type { MirrorLook } from '@/stage';

export type Hand = 'place' | 'turn' | 'size';
/** What the strip shows. */
export type StripOf = 'turns' | 'faces';

/** What lays sliders over a take while it plays: how the wearer is held, and what is remembered of it. */
export interface Recording {
  take: Take;
  /** The take is through. */
  done: boolean;
  step: (timeS: number) => Partial<FitState>;
  touch: (pose: Held) => Partial<FitState>;
}

interface FitState {
  pose: Held;
  poseId: string | null;
  take: Take;
  /** Of the take; what the run is at. */
  timeS: number;
  playing: boolean;
  /** A pose of the take is shown, not a key pose. */
  running: boolean;
  hatched: boolean;
  hand: Hand;
  linked: boolean;
  listBy: 'anchor' | 'stacking';
  /** A placement that is being dragged and not yet in the document. */
  draft: { id: string; offset: Offset } | null;
  /** In a window where the rack is a drawer: it is open. */
  rackOpen: boolean;
  /** Files of Stock are shown under the rack. */
  shelf: boolean;
  /** The part whose name is being written. */
  naming: string | null;
  /** What the strip was set to show; null: what the piece asks for. */
  strip: StripOf | null;
  /** What stands in the rack's place. */
  panel: 'face' | 'cast' | 'camera' | 'takes' | null;
  /** What sliders do while a take plays is being kept. */
  recording: Recording | null;
  /** What the work is about: where things are, or how they look. */
  tab: 'placement' | 'finish';
  /** The environment that came on stage last; '': none yet. */
  lit: string;
  /** The place of the picture that is asked about, 0 … 1 from its upper left. */
  mark: readonly [number, number] | null;
  /** How wrong the mattes of the simulated device are; null: exact. */
  poor: (NonNullable<MirrorLook['poor']> & { lagMs: number }) | null;
  /** Through what the Mirror looks; null: as pieces are looked at. */
  camera: LensView | null;
  /** Measures of the wearer shown while a slider is held: not yet in the document. */
  measuring: FormRow | null;
  /** The part whose place is to be pressed on the skin, and whether it stays where it is. */
  picking: { part: string; stays: boolean } | null;
  /** Shared by both plates: same scale, same up. */
  plates: { sideMm: number; foreMm: number; upMm: number; pxPerMm: number };
  takePose: (pose: Pose) => void;
  /** The face of the wearer as they are held. */
  takeFace: (face: Expression) => void;
  /** How the wearer is held now, by sliders. */
  hold: (pose: Held) => void;
  /** The head of the wearer as they are held. */
  takeHead: (turn: Partial<HeadTurn>) => void;
  stepPose: (by: 1 | -1, strip: readonly Pose[]) => void;
  play: (on: boolean) => void;
  chooseTake: (take: Take) => void;
  /** The take has been changed; what is shown of it goes along. */
  retake: (take: Take) => void;
  tick: (timeS: number) => void;
  /** A drag has moved on: shown in a task of its own, without the layout and paint of the frame that the move came with. */
  dragSoon: (draft: NonNullable<FitState['draft']>) => void;
  /** Ends a drag: where it came to, shown or not yet. */
  drop: () => FitState['draft'];
  set: (
    change: Partial<
      Pick<
        FitState,
        | 'hatched'
        | 'running'
        | 'recording'
        | 'playing'
        | 'timeS'
        | 'pose'
        | 'poseId'
        | 'hand'
        | 'linked'
        | 'draft'
        | 'plates'
        | 'listBy'
        | 'naming'
        | 'shelf'
        | 'rackOpen'
        | 'strip'
        | 'panel'
        | 'camera'
        | 'measuring'
        | 'picking'
        | 'tab'
        | 'mark'
        | 'lit'
        | 'poor'
      >
    >,
  ) => void;
}

/** What a strip shows of a piece unless it is asked: faces where something goes along with the face. */
export const stripKind = (piece: Piece, asked: StripOf | null): StripOf =>
  asked ?? (goesWithFace(piece) && !hasBody(piece) ? 'faces' : 'turns');
/** Key poses without faces. */
export const turnsOf = (piece: Piece): readonly Pose[] => (hasBody(piece) ? BODY_STRIP : POSES);
/** Key poses of a piece: of the head, or of the body where something is on it, or of the face. */
export const stripOf = (piece: Piece, asked: StripOf | null): readonly Pose[] =>
  stripKind(piece, asked) === 'faces' ? FACE_STRIP : turnsOf(piece);
/** A wearer held in a key pose. */
export const heldIn = (pose: Pose): Held => ({
  head: pose,
  ...(pose.body && { body: { pose: pose.body } }),
  ...(pose.face && { face: pose.face }),
});

/** Whether a hand is moving a part or a measure: what is worked out or drawn apart from the picture waits for it. */
export const handMoves = ({ draft, measuring }: Pick<FitState, 'draft' | 'measuring'>): boolean => draft !== null || measuring !== null;

const FRONT = POSES.find((p) => p.id === 'front') as Pose;
export const PLATES_AT_REST = { sideMm: 0, foreMm: 35, upMm: 0, pxPerMm: 1.45 };
/** The whole body, as high as a plate. */
export const PLATES_OF_BODY = { sideMm: 0, foreMm: 0, upMm: -740, pxPerMm: 0.13 };
export const platesAtRest = (piece: Piece) => (hasBody(piece) ? PLATES_OF_BODY : PLATES_AT_REST);

let moved: FitState['draft'] = null;
let due: ReturnType<typeof setTimeout> | undefined;

export const useFit = create<FitState>((set, get) => ({
  pose: { head: FRONT },
  poseId: FRONT.id,
  take: LOOK_ABOUT,
  timeS: 0,
  playing: false,
  running: false,
  hatched: true,
  hand: 'place',
  linked: true,
  tab: 'placement',
  lit: '',
  mark: null,
  poor: null,
  camera: null,
  listBy: 'anchor',
  draft: null,
  naming: null,
  rackOpen: false,
  shelf: true,
  strip: null,
  panel: null,
  recording: null,
  measuring: null,
  picking: null,
  plates: PLATES_AT_REST,
  takePose: (pose) =>
    set(({ pose: now, panel }) => ({
      // a face that is being looked at is turned as it is
      pose: { ...heldIn(pose), ...(panel === 'face' && !pose.face && now.face ? { face: now.face } : {}) },
      poseId: pose.id,
      playing: false,
      running: false,
      recording: null,
    })),
  takeFace: (face) => get().hold({ ...get().pose, face }),
  takeHead: (turn) => get().hold({ ...get().pose, head: { ...get().pose.head, ...turn } }),
  hold: (pose) => set(({ recording }) => recording?.touch(pose) ?? { pose, poseId: null, playing: false, running: false }),
  stepPose(by, strip) {
    const at = strip.findIndex((p) => p.id === get().poseId);
    const next = strip[(at + by + strip.length) % strip.length];
    get().takePose(next);
  },
  play: (playing) => set(({ recording }) => (recording ? { playing } : playing ? { playing, running: true, poseId: null } : { playing })),
  chooseTake: (take) => set({ recording: null, take, timeS: 0, running: true, poseId: null, pose: poseAtTime(take, 0) }),
  retake: (take) => set(({ running, timeS }) => (running ? { take, pose: poseAtTime(take, timeS) } : { take })),
  tick: (timeS) => set(({ take, recording }) => recording?.step(timeS) ?? { timeS, pose: poseAtTime(take, timeS) }),
  dragSoon(draft) {
    moved = draft;
    due ??= setTimeout(() => {
      due = undefined;
      set({ draft: moved });
    });
  },
  drop() {
    const last = moved ?? get().draft;
    clearTimeout(due);
    due = undefined;
    moved = null;
    set({ draft: null });
    return last;
  },
  set,
}));
