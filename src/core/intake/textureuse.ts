/** The pictures in a model, and what uses each. */
import type { Document } from '@gltf-transform/core';
import { textureName } from './check/textures';
import { wantedName, wantedPictures } from './wanted';

export interface TextureUse {
  /** As facts name it. */
  name: string;
  mime: string;
  bytes: Uint8Array;
  users: { material: string; role: string }[];
}

/** Every picture that is there, in the document's order; stand-ins for missing ones are left out. */
export function textureUses(document: Document): TextureUse[] {
  return document
    .getRoot()
    .listTextures()
    .flatMap((t, i): TextureUse[] => {
      const bytes = t.getImage();
      if (!bytes || wantedName(t) !== null) return [];
      const users = wantedPictures(document, new Set([t])).list[0]?.slots ?? [];
      return [{ name: textureName(t, i), mime: t.getMimeType(), bytes: bytes.slice(), users }];
    });
}
