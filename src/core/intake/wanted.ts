/**
 * Pictures a file asks for that did not come along. Their slots keep a neutral stand-in of one pixel, so that UV set, wrap and
 * transform of each slot outlive the way through a GLB; its extras say what is wanted.
 */
import type { Document, Texture } from '@gltf-transform/core';
import { SLOTS, type Slot } from './check/textures';
import type { WantedPicture } from './facts';

const KEY = 'scaphosWants';

/** One pixel PNG: white, or (½, ½, 1) for a normal map: the factors of the material count as if there were no picture. */
const WHITE = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4AWP4//8/AAX+Av4fbPrrAAAAAElFTkSuQmCC';
const FLAT = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4AWNoaPgPAAODAgASJkfaAAAAAElFTkSuQmCC';
const bytesOf = (base64: string) => Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));

/** Puts the stand-in where the picture `name` is wanted. */
export function standIn(texture: Texture, name: string, slot: Slot | undefined): void {
  texture
    .setImage(bytesOf(slot === 'normal' ? FLAT : WHITE))
    .setMimeType('image/png')
    .setURI('')
    .setExtras({ ...texture.getExtras(), [KEY]: name });
}

export const wantedName = (t: Texture): string | null => {
  const name = t.getExtras()[KEY];
  return typeof name === 'string' ? name : null;
};

/** The texture is there now. */
export function fulfil(t: Texture): void {
  const { [KEY]: _gone, ...rest } = t.getExtras();
  t.setExtras(rest);
}

/** Slot a texture is first worn in. */
export function firstSlot(document: Document, texture: Texture): Slot | undefined {
  for (const m of document.getRoot().listMaterials()) for (const s of SLOTS) if (s.texture(m) === texture) return s.slot;
  return undefined;
}

/** What is wanted, by name, with every material slot that wears it. `these`: look at these textures whatever they say. */
export function wantedPictures(
  document: Document,
  these?: ReadonlySet<unknown>,
): { list: WantedPicture[]; byTexture: Map<Texture, string> } {
  const byTexture = new Map<Texture, string>();
  const list = new Map<string, WantedPicture>();
  for (const t of document.getRoot().listTextures()) {
    const name = these ? (these.has(t) ? t.getName() || t.getURI() || 'picture' : null) : wantedName(t);
    if (name === null) continue;
    byTexture.set(t, name);
    const entry = list.get(name) ?? { name, slots: [], broken: false };
    for (const m of document.getRoot().listMaterials())
      for (const s of SLOTS) if (s.texture(m) === t) entry.slots.push({ material: m.getName(), role: s.slot });
    list.set(name, entry);
  }
  return { list: [...list.values()], byTexture };
}
