/** Whether a finish makes right use of the alpha of its picture; where not, what would. */
import type { FinishRow } from './row';

/** Shares of a picture's pixels, 0 … 1. */
export interface AlphaShares {
  /** As good as not there. */
  clear: number;
  /** Between there and not there. */
  soft: number;
}
/** Less than this is an edge's or a packer's noise (chosen by eye). */
const [CLEAR, FULL] = [10, 245];

/** @param rgba bytes, four a pixel */
export function readAlpha(rgba: ArrayLike<number>): AlphaShares {
  let [clear, soft] = [0, 0];
  for (let i = 3; i < rgba.length; i += 4) {
    if (rgba[i] < CLEAR) clear++;
    else if (rgba[i] < FULL) soft++;
  }
  const n = Math.max(1, rgba.length / 4);
  return { clear: clear / n, soft: soft / n };
}

export interface AlphaFault {
  message: string;
  /** What the press is called. */
  press: string;
  fix: Partial<FinishRow>;
}
/** Shares that matter. */
const [SOME, HARD] = [0.005, 0.15];

/** @param alpha of the base colour's picture; null: it has none */
export function alphaFault(
  f: Pick<FinishRow, 'kind' | 'blend' | 'faces' | 'opacity' | 'matte' | 'maps'>,
  alpha: AlphaShares | null,
): AlphaFault | null {
  if (f.kind !== 'surface') return null;
  const { clear, soft } = alpha ?? { clear: 0, soft: 0 };
  const holes = clear + soft > SOME;
  const hard = soft < HARD * (clear + soft);
  const through = f.opacity < 1 || f.matte !== null || (f.maps.opacity !== null && f.maps.opacity !== 'own');
  if (f.blend === 'opaque' && holes)
    return hard
      ? { message: 'Its picture has holes, and solid does not look at them.', press: 'Cut them out', fix: { blend: 'cut', cutAt: 0.5 } }
      : {
          message: 'Its picture lets through in places, and solid does not look at that.',
          press: 'Let it through',
          fix: { blend: 'over' },
        };
  if (f.blend === 'over' && !holes && !through)
    return { message: 'Nothing of it lets anything through; over may sort it wrongly.', press: 'Make it solid', fix: { blend: 'opaque' } };
  if (f.blend === 'over' && holes && hard && !through)
    return {
      message: 'Its picture is there or not there; over may sort it wrongly, cut never does.',
      press: 'Cut it',
      fix: { blend: 'cut', cutAt: 0.5 },
    };
  if (f.blend === 'over' && holes && f.faces === 'both')
    return {
      message: 'Soft and seen from both sides: its far side may be drawn over its near one.',
      press: 'Show its front alone',
      fix: { faces: 'front' },
    };
  return null;
}
