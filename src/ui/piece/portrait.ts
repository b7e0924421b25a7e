'use client';
/** A document as its piece looks: head and shoulders, and what they wear, from a little aside. */
import { BODY_CAMERA, type CaptureCamera } from '@/core/capture';
import type { Model } from '@/core/intake';
import { type Box, growBox } from '@/core/math';
import { anchorOf, drawnModel, hasBody, hiddenBy, type Piece, seesBody, shownBody, shownWearer, stocksOf } from '@/core/piece';
import { type Assets, stageStill, wearerCapture, worldBox } from '@/core/run';
import { sculptsFor } from './sculpts';
import { loadModel, loadSky, loadStage, skiesOf } from './stagehooks';
import { formsFor, loadWearer } from './wearers';

const PORTRAIT = { width: 606, height: 400, ratio: 1 };
const TURN = { yawDeg: 22, pitchDeg: 0, rollDeg: 0 };
/** The head from chin to crown, metres: always in the picture. */
const HEAD: Box = [-0.09, -0.13, -0.1, 0.09, 0.135, 0.12];
const FOV_DEG = 21;

/** A camera that has the head and what it wears in its picture, and little else. */
export function portraitCamera(doc: Piece, assets: Assets): CaptureCamera {
  const box: Box = [...HEAD];
  if (hasBody(doc)) return BODY_CAMERA;
  const worn = worldBox(stageStill(doc, assets, wearerCapture(doc, { head: TURN })).parts, assets);
  if (worn) growBox(box, worn);
  // what is delivered metres large is not followed: the head must stay to be seen
  const high = Math.min(0.6, Math.max(box[4] - box[1], (box[3] - box[0]) / 1.5));
  const up = Math.min(0.2, Math.max(-0.2, (box[1] + box[4]) / 2));
  const distance = (high * 1.12) / 2 / Math.tan((FOV_DEG * Math.PI) / 360) + 0.12;
  return { positionM: [0, up + 0.02, distance], targetM: [0, up, 0], fovDeg: FOV_DEG };
}

/** @param pieceId whose yard the files are in @returns a PNG of 606 × 400 */
export async function portraitOf(pieceId: string, doc: Piece): Promise<Blob> {
  const stage = await loadStage();
  const wearer = await loadWearer(shownBody(doc), seesBody(doc));
  const models: Record<string, Model> = {};
  const worn = new Set(
    Object.values(doc.parts).flatMap((p) =>
      !hiddenBy(doc, p) && anchorOf(doc, p) ? stocksOf(p).flatMap((id) => drawnModel(doc, id) ?? []) : [],
    ),
  );
  const skies = skiesOf(doc);
  stage.assets.pin('portrait', [...worn, ...skies]);
  for (const sha of worn) models[sha] = await loadModel(pieceId, sha);
  for (const sha of skies) await loadSky(pieceId, sha);
  const assets = { models, forms: await formsFor(doc, [shownWearer(doc)]), sculpts: await sculptsFor(doc, models) };
  const state = stageStill(doc, assets, wearerCapture(doc, { head: TURN }, 0, portraitCamera(doc, assets)));
  stage.setWearer(wearer);
  return stage.stillPng(state, PORTRAIT).finally(() => stage.assets.pin('portrait', []));
}
