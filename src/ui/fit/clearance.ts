/** What is said of a part's clearance and leaks. */
import { drawnModel, type Part, type Piece } from '@/core/piece';
import type { Assets } from '@/core/run';
import { placeWords } from '@/core/words/places';
import type { ToldCell } from '@/worker/browser';

/** More vertices than this are not gone through unasked: the page would be held. */
const MANY = 50_000;
export function isHeavy(piece: Piece, { models }: Assets, part: Part): boolean {
  const model = part.kind === 'model' ? models[drawnModel(piece, part.stock) ?? ''] : undefined;
  return (model?.meshes ?? []).some((m) => m.primitives.reduce((s, p) => s + p.positions.length / 3, 0) > MANY);
}

/** “cuts in 1.8 mm at the root of the left ear”, “free by 2.3 mm”. */
export function clearanceWords({ clearance, near }: ToldCell): string {
  const { deepestMm } = clearance;
  if (deepestMm <= 0) return deepestMm < -100 ? 'nowhere near the wearer' : `free by ${(-deepestMm).toFixed(1)} mm`;
  return `cuts in ${deepestMm.toFixed(1)} mm${near ? `, ${placeWords(near)}` : ''}`;
}

const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** “3.2 % of it is seen that a head would hide”; null: it was not asked, or nothing is wrong. */
export function leakWords({ leaks: l }: ToldCell): string | null {
  if (!l) return null;
  const said = [
    l.leak > 0 ? `${percent(l.leak)} of what is seen of it a wearer would hide` : '',
    l.swallowed > 0 ? `${percent(l.swallowed)} that should be seen is hidden` : '',
  ].filter(Boolean);
  return said.length > 0 ? said.join('; ') : null;
}
