/** One run of a page: every view subscribes to it, none works out frames for itself. */
import type { CaptureFrame, CaptureSource } from '../capture';
import { advance, copyMemory, type Memory, restoreMemory, STEP_S, settle, start } from './run';
import type { Show } from './show';
import { stageOf } from './stage';
import type { StageState } from './state';

/** Copies of the memory are kept at whole seconds, this many. */
const MOST_KEPT = 600;

export class Runner {
  private memory: Memory;
  private readonly kept = new Map<number, Memory>();

  constructor(
    private show: Show,
    private source: CaptureSource,
    private readonly seed = 1,
  ) {
    this.memory = start(show, { seed });
  }

  get running(): Show {
    return this.show;
  }

  /** Another show (after an edit) or another source: what was remembered starts anew. */
  change(show: Show, source: CaptureSource = this.source): void {
    this.show = show;
    this.source = source;
    this.memory = start(show, { seed: this.seed });
    this.kept.clear();
  }

  /** What is on stage at a time; earlier times are sought. null: the source knows nothing yet. */
  frame(timeS: number): StageState | null {
    this.toTime(timeS);
    const capture = this.source.frame(timeS);
    return capture && stageOf(this.show, this.memory, capture);
  }

  /** The same as `frame` after everything before it, from the nearest kept copy. */
  seek(timeS: number): StageState | null {
    return this.frame(timeS);
  }

  /** At rest in a pose, whatever has run. */
  still(capture: CaptureFrame): StageState {
    return stageOf(this.show, settle(this.show, capture), capture);
  }

  private toTime(timeS: number): void {
    const wanted = Math.floor(timeS / STEP_S + 1e-6);
    if (wanted < this.memory.step) {
      let nearest = -1;
      for (const second of this.kept.keys()) if (second > nearest && second <= timeS + 1e-9) nearest = second;
      const copy = this.kept.get(nearest);
      if (copy) restoreMemory(this.memory, copy);
      else this.memory = start(this.show, { seed: this.seed });
    }
    const at = (t: number) => this.source.frame(t);
    const from = Math.max(0, Math.floor(this.memory.step * STEP_S + 1e-6));
    for (let second = from + 1; second <= timeS + 1e-9; second++) {
      advance(this.show, this.memory, at, second);
      if (this.show.trails.length > 0 && !this.kept.has(second) && this.kept.size < MOST_KEPT)
        this.kept.set(second, copyMemory(this.memory));
    }
    advance(this.show, this.memory, at, timeS);
  }
}

/** A source of frames made by a function of time. */
export const sourceOf = (frame: (timeS: number) => CaptureFrame | null): CaptureSource => ({ frame, close: () => undefined });
