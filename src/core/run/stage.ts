/** Show × memory × capture → what is drawn. The memory stays as it is. */

import { Matrix4 } from 'three';
import type { CaptureFrame } from '../capture';
import type { Model } from '../model/model';
import { type PosedPrimitive, posedPrimitives } from '../model/pose';
import type { Piece } from '../piece/schema';
import { litBy, seesBody } from '../piece/selectors';
import { copyMemory, framesFor, type Memory, STEP_S, settle } from './run';
import { type Assets, compile, type Show } from './show';
import { stageNode } from './stagers';
import type { StageForm, StageLayer, StagePart, StageState } from './state';

/**
 * What is on stage at the capture's time. Between two steps what lags goes on by the share of a step that has passed, without
 * being remembered.
 */
export function stageOf(show: Show, memory: Memory, capture: CaptureFrame): StageState {
  const { nodes, seen, piece } = show;
  const frames = framesFor(show);
  const passed = memory.step < 0 ? 0 : Math.max(0, capture.timeS - memory.step * STEP_S);
  const now = show.trails.length > 0 ? copyMemory(memory) : memory;
  seen.look(capture);
  for (let i = 0; i < nodes.length; i++) frames.place(i, capture.timeS, now, passed > 1e-9 ? passed : 0);
  const parts = show.rack.map((i): StagePart => {
    const node = nodes[i];
    const staged = stageNode(node, capture.timeS, show);
    return {
      id: node.part.id,
      shown: node.visible && frames.found[i] && staged.drawn,
      found: frames.found[i],
      matrix: frames.world[i].toArray(),
      layer: node.part.layer,
      shape: staged.shape,
      opacity: staged.opacity,
      solid: staged.solid,
      occludes: staged.occludes,
      wears: node.wears,
    };
  });
  const inLayer = new Map<string, string[]>();
  for (const p of parts) if (p.shape) inLayer.set(p.layer, [...(inLayer.get(p.layer) ?? []), p.id]);
  const layers = piece.orders.layers.map((id): StageLayer => {
    const layer = piece.layers[id];
    return {
      id,
      kind: layer.kind,
      shown: layer.visible,
      sort: layer.kind === 'parts' ? layer.sort : 'order',
      matte: layer.kind === 'matte' ? layer.matte : null,
      parts: inLayer.get(id) ?? [],
    };
  });
  const b = seen.bones;
  const form: StageForm | null = b && {
    size: piece.settings.form,
    head: b.head.toArray(),
    neck: b.neck.toArray(),
    bust: b.bust.toArray(),
    face: seen.face,
    body: capture.joints || seesBody(piece) ? (seen.bodyBones?.carry.map((m) => m.toArray()) ?? null) : null,
  };
  return { timeS: capture.timeS, camera: capture.camera, light: litBy(piece), form, parts, layers };
}

/** What a piece shows at rest in one capture: nothing lags. */
export function stageStill(piece: Piece, assets: Assets, capture: CaptureFrame): StageState {
  const show = compile(piece, assets);
  return stageOf(show, settle(show, capture), capture);
}

/** World positions of a staged part's vertices (metres), as every drawing of it must show them. */
export function worldVertices(part: StagePart, model: Model): PosedPrimitive[] {
  const pose = part.shape?.type === 'glb' ? part.shape.pose : null;
  return pose ? posedPrimitives(model, pose, new Matrix4().fromArray(part.matrix)) : [];
}
