'use client';
/** Covers are made when the Yard is opened: real renderings, kept with the revision they show. */
import { useEffect, useState } from 'react';
import { api, type PieceSummary } from '@/api';
import { type CaptureCamera, simulateCapture } from '@/core/capture';
import { SKELETONS } from '@/core/form';
import type { Model } from '@/core/intake';
import { type Box, growBox } from '@/core/math';
import { anchorOf, drawnModel, hiddenBy, type Piece, stockOf } from '@/core/piece';
import { stageStill, worldBox } from '@/core/run';
import { getStage, loadForm, loadModel, loadSky, skiesOf } from '../piece/stagehooks';

const COVER = { width: 606, height: 400, ratio: 1 };
const TURN = { yawDeg: 22, pitchDeg: 0, rollDeg: 0 };
/** The head from chin to crown, metres: always in the picture. */
const HEAD: Box = [-0.09, -0.13, -0.1, 0.09, 0.135, 0.12];
const FOV_DEG = 21;

/** A camera that has the head and what it wears in its picture, and little else. */
function coverCamera(doc: Piece, models: Readonly<Record<string, Model>>): CaptureCamera {
  const box: Box = [...HEAD];
  const bones = SKELETONS[doc.settings.form];
  const worn = worldBox(stageStill(doc, { models }, simulateCapture(TURN, bones)).parts, { models });
  if (worn) growBox(box, worn);
  // what is delivered metres large is not followed: the head must stay to be seen
  const high = Math.min(0.6, Math.max(box[4] - box[1], (box[3] - box[0]) / 1.5));
  const up = Math.min(0.2, Math.max(-0.2, (box[1] + box[4]) / 2));
  const distance = (high * 1.12) / 2 / Math.tan((FOV_DEG * Math.PI) / 360) + 0.12;
  return { positionM: [0, up + 0.02, distance], targetM: [0, up, 0], fovDeg: FOV_DEG };
}

async function makeCover(piece: PieceSummary): Promise<void> {
  const { document: doc } = piece;
  const stage = getStage();
  const form = await loadForm(doc.settings.form);
  const models: Record<string, Model> = {};
  const worn = new Set(
    Object.values(doc.parts).flatMap((p) => (!hiddenBy(doc, p) && anchorOf(doc, p) ? (drawnModel(doc, stockOf(p) ?? '') ?? []) : [])),
  );
  const skies = skiesOf(doc);
  stage.assets.pin('cover', [...worn, ...skies]);
  for (const sha of worn) models[sha] = await loadModel(piece.id, sha);
  for (const sha of skies) await loadSky(piece.id, sha);
  const state = stageStill(doc, { models }, simulateCapture(TURN, SKELETONS[doc.settings.form], 0, coverCamera(doc, models)));
  stage.setForm(form);
  const png = await stage.stillPng(state, COVER);
  await api.putCover(piece.id, piece.revision, png);
}

/** Piece → revision of its newest cover. Missing and outdated ones are made one after another. */
export function useCovers(pieces: readonly PieceSummary[]): Readonly<Record<string, number>> {
  const [fresh, setFresh] = useState<Readonly<Record<string, number>>>({});
  useEffect(() => {
    let gone = false;
    void (async () => {
      for (const piece of pieces) {
        if (gone || piece.deletedAt || piece.coverRevision === piece.revision) continue;
        // a cover that cannot be made leaves the old one, or the dashed outline
        const made = await makeCover(piece).then(
          () => true,
          () => false,
        );
        if (made && !gone) setFresh((f) => ({ ...f, [piece.id]: piece.revision }));
      }
    })();
    return () => {
      gone = true;
    };
  }, [pieces]);
  return fresh;
}
