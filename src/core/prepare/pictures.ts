/** The pictures step: every texture at the size, in the format and quality its role or its name asks for. */
import type { Document, Material, Texture } from '@gltf-transform/core';
import { EXTTextureWebP, KHRTextureBasisu } from '@gltf-transform/extensions';
import { textureName } from '../intake/check/textures';
import { wantedName } from '../intake/wanted';
import type { PictureEncoding, PictureRoleName, PicturesSettings } from '../piece/recipe';
import type { EncodeAsk, PictureBytes, PictureEncoder } from './picturetools';

// sizes of these are read by their own readers
for (const format of [EXTTextureWebP, KHRTextureBasisu]) format.register();

/** What a texture is for; one that serves several is the most delicate of them. */
export function roleOf(document: Document, t: Texture): PictureRoleName {
  const materials = document.getRoot().listMaterials();
  const any = (get: (m: Material) => Texture | null) => materials.some((m) => get(m) === t);
  if (any((m) => m.getNormalTexture())) return 'normal';
  if (any((m) => m.getBaseColorTexture())) return 'color';
  if (any((m) => m.getMetallicRoughnessTexture()) || any((m) => m.getOcclusionTexture())) return 'data';
  return any((m) => m.getEmissiveTexture()) ? 'emission' : 'color';
}

/** Whether a material reads the alpha of the texture. */
export const readsAlpha = (document: Document, t: Texture): boolean =>
  document
    .getRoot()
    .listMaterials()
    .some((m) => m.getBaseColorTexture() === t && m.getAlphaMode() !== 'OPAQUE') || !isCore(document, t);

/** Textures of extensions may use their alpha in ways of their own (sheen, specular). */
const isCore = (document: Document, t: Texture): boolean =>
  document
    .getRoot()
    .listMaterials()
    .some((m) =>
      [
        m.getBaseColorTexture(),
        m.getNormalTexture(),
        m.getMetallicRoughnessTexture(),
        m.getOcclusionTexture(),
        m.getEmissiveTexture(),
      ].includes(t),
    );

export const askFor = (document: Document, t: Texture, e: PictureEncoding): EncodeAsk => {
  const role = roleOf(document, t);
  return {
    maxEdge: e.maxEdge,
    format: e.format,
    quality: e.quality,
    numbers: role === 'normal' || role === 'data',
    directions: role === 'normal',
    alpha: readsAlpha(document, t),
  };
};

export const putPicture = (document: Document, t: Texture, p: PictureBytes): void => {
  t.setImage(p.bytes as Uint8Array<ArrayBuffer>).setMimeType(p.mime);
  if (p.mime === 'image/webp') document.createExtension(EXTTextureWebP).setRequired(true);
  if (p.mime === 'image/ktx2') document.createExtension(KHRTextureBasisu).setRequired(true);
};

/** Formats that are extensions of glTF. */
const SPECIAL: Readonly<Record<string, string | undefined>> = { 'image/webp': 'webp', 'image/ktx2': 'ktx2' };

/** Over its limit, in a format that is to be left, or asked for as KTX2 (which saves memory): written anew even where it grows. */
export const mustChange = (t: Texture, edge: number, to: Pick<PictureEncoding, 'maxEdge' | 'format'>): boolean =>
  edge > to.maxEdge ||
  (to.format !== 'keep' && (to.format === 'ktx2' || SPECIAL[t.getMimeType()] !== undefined) && SPECIAL[t.getMimeType()] !== to.format);

/** Pictures that are written side by side. */
const TOGETHER = 4;

export async function runPictures(
  document: Document,
  { roles, textures }: PicturesSettings,
  tools: PictureEncoder & { sha256: (bytes: Uint8Array) => string },
): Promise<void> {
  const write = async (t: Texture, i: number) => {
    const bytes = t.getImage();
    const wanted = bytes && wantedFor(document, t, i, () => tools.sha256(bytes), { roles, textures });
    if (!bytes || !wanted) return;
    const made = await tools.encode(bytes, askFor(document, t, wanted)).catch(() => null);
    const edge = Math.max(...(t.getSize() ?? [0, 0]));
    if (made && (made.bytes.byteLength < bytes.byteLength || mustChange(t, edge, wanted))) putPicture(document, t, made);
  };
  await fewAtATime(document.getRoot().listTextures(), write);
}

/** How the settings want a texture; null for what they do not speak of and for pictures that are missing. */
function wantedFor(
  document: Document,
  t: Texture,
  i: number,
  sha: () => string,
  { roles, textures }: PicturesSettings,
): PictureEncoding | null {
  if (wantedName(t) !== null) return null;
  const role = () => roles.find((r) => r.role === roleOf(document, t)) ?? null;
  if (textures.length === 0) return role();
  const [is, name] = [sha(), textureName(t, i)];
  return textures.find((x) => x.was === is) ?? textures.find((x) => x.texture === name) ?? role();
}

/** A picture of 4096² takes 64 MB while it is written: not all are at once. */
async function fewAtATime(list: readonly Texture[], write: (t: Texture, i: number) => Promise<void>): Promise<void> {
  for (let i = 0; i < list.length; i += TOGETHER) await Promise.all(list.slice(i, i + TOGETHER).map((t, k) => write(t, i + k)));
}

/**
 * The tools with pictures being written from now on, as a later step will ask for them: other threads write them while this one
 * works on shapes. What the step then asks for otherwise is written when it asks.
 */
export function encodeAhead<T extends PictureEncoder & { sha256: (bytes: Uint8Array) => string }>(
  document: Document,
  settings: PicturesSettings,
  tools: T,
): T {
  const begun = new WeakMap<Uint8Array, Map<string, Promise<PictureBytes>>>();
  const begin = async (t: Texture, i: number) => {
    const bytes = t.getImage();
    const wanted = bytes && wantedFor(document, t, i, () => tools.sha256(bytes), settings);
    if (!bytes || !wanted) return;
    const ask = askFor(document, t, wanted);
    const made = tools.encode(bytes, ask);
    begun.set(bytes, (begun.get(bytes) ?? new Map()).set(JSON.stringify(ask), made));
    // whoever asks for it hears why
    await made.catch(() => undefined);
  };
  void fewAtATime(document.getRoot().listTextures(), begin);
  return {
    ...tools,
    encode: (bytes, ask) => begun.get(bytes)?.get(JSON.stringify(ask)) ?? tools.encode(bytes, ask),
  };
}
