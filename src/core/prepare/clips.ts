/** The clips step: keys that say nothing new go, and tracks that only say what rests. */
import type { Document } from '@gltf-transform/core';
import { resample } from '@gltf-transform/functions';
import type { ClipsSettings } from '../piece/recipe';
import { mendRig } from './mendrig';

export async function runClips(document: Document, { resample: fewer, dropConstant }: ClipsSettings): Promise<void> {
  if (fewer) await document.transform(resample({ tolerance: 1e-4, cleanup: false }));
  if (dropConstant) mendRig(document, new Set(['constant-tracks']));
}
