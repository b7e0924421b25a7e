/** A still of a piece as an address, for sheets that compare. */
import type { Piece } from '@/core/piece';
import { seesBody, shownBody } from '@/core/piece';
import { type Assets, type Held, stageStill, wearerCapture } from '@/core/run';
import type { portraitCamera } from '../../piece/portrait';
import { loadStage } from '../../piece/stagehooks';
import { loadWearer } from '../../piece/wearers';

export interface StillSize {
  width: number;
  height: number;
  ratio: number;
}
/** To be revoked by who asked. */
export async function stillOf(
  piece: Piece,
  assets: Assets,
  pose: Held,
  camera: ReturnType<typeof portraitCamera>,
  size: StillSize,
): Promise<string> {
  const [stage, worn] = await Promise.all([loadStage(), loadWearer(shownBody(piece), seesBody(piece))]);
  stage.setWearer(worn);
  return URL.createObjectURL(await stage.stillPng(stageStill(piece, assets, wearerCapture(piece, pose, 0, camera)), size));
}
