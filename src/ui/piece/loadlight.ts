/** What a piece is lit by, brought on stage: fetched where it is a file of Stock, made here where it is one of ours. */
import { api } from '@/api';
import type { SkyName } from '@/core/words/skies';
import { computing } from '@/worker/browser';
import { fetchOnce, followed, loadStage } from './stagehooks';

/** An environment as the stage holds it, and what a page shows of it. */
export interface LightLook {
  dome: Uint8ClampedArray;
  main: { bearingDeg: number; heightDeg: number } | null;
}
const lights = new Map<string, Promise<LightLook>>();
/** Brings what a piece is lit by on stage: made here where it is one of ours. */
export async function loadLight(pieceId: string, key: string): Promise<LightLook> {
  const there = (await loadStage()).hasLight(key);
  const before = there && lights.get(key);
  if (before) return before;
  const take = async (of: SkyName | Uint8Array) => {
    const light = await computing.lightOf(of);
    (await loadStage()).addLight(key, light);
    return light;
  };
  lights.delete(key);
  if (key.length === 64) return fetchOnce(lights, key, api.modelUrl(pieceId, key), take);
  const made = followed(take(key as SkyName));
  lights.set(key, made);
  made.catch(() => lights.delete(key));
  return made;
}
