/** What every check works on, and how it says what it found. */
import type { Document, Primitive } from '@gltf-transform/core';
import type { Model } from '../../model/model';
import type { MendOp, TextureSettings } from '../../piece/recipe';
import type { ModelFormat } from '../facts';
import type { Finding, FindingLevel } from '../findings';
import type { PictureStats } from './pictures';

export interface Picture {
  name: string;
  bytes: number;
  /** SHA-256 of the bytes. */
  sha: string;
  /** null: the bytes are there and no reader can read them. */
  stats: PictureStats | null;
}

export interface CheckContext {
  document: Document;
  model: Model;
  /** In the order of the document's textures. */
  pictures: readonly Picture[];
  /** Largest side of the model, metres. */
  sizeM: number;
  /** What it came as. */
  format: ModelFormat;
}

export const finding = (code: string, level: FindingLevel, message: string, where?: string, fix?: Finding['fix']): Finding => ({
  code,
  level,
  message,
  ...(where ? { where } : {}),
  ...(fix ? { fix } : {}),
});

export const mend = (op: MendOp, ...changes: string[]): NonNullable<Finding['fix']> => ({ step: 'mend', settings: { ops: [op] }, changes });
export const textureFix = (op: TextureSettings['ops'][number], maxEdge: number, ...changes: string[]): NonNullable<Finding['fix']> => ({
  step: 'texture',
  settings: { ops: [op], maxEdge },
  changes,
});

/** "1 triangle", "1 204 triangles". */
export const count = (n: number, one: string, many = `${one}s`) =>
  `${String(n).replace(/\B(?=(\d{3})+$)/g, '\u2009')} ${n === 1 ? one : many}`;

/** Names of a few, and how many more. */
export const some = (names: readonly string[], most = 3) =>
  names.length <= most ? names.join(', ') : `${names.slice(0, most).join(', ')} and ${names.length - most} more`;

/** The primitives of a mesh as the plain model numbers them: those with positions. */
export const placedPrimitives = (document: Document): Primitive[][] =>
  document
    .getRoot()
    .listMeshes()
    .map((m) => m.listPrimitives().filter((p) => p.getAttribute('POSITION')));

export const isGlass = (p: Primitive): boolean => {
  const m = p.getMaterial();
  return !!m && ((m.getAlphaMode() === 'BLEND' && m.getAlpha() < 0.95) || m.getExtension('KHR_materials_transmission') !== null);
};
