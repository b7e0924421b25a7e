/** The texture step: pictures made smaller, without idle alpha, shared, put in their role, packed. */
import type { Document, Texture } from '@gltf-transform/core';
import { EXTTextureWebP } from '@gltf-transform/extensions';
import type { Picture } from '../intake/check/context';
import { pictureLook } from '../intake/check/pictures';
import { textureName } from '../intake/check/textures';
import { fulfil, wantedName } from '../intake/wanted';
import type { RelinkSettings, RepaintSettings, TextureSettings } from '../piece/recipe';
import type { PictureBytes, PictureTools } from './picturetools';

/** Decodes every texture once, in the document's order; what cannot be read has no stats. */
export async function readPictures(document: Document, tools: Pick<PictureTools, 'read' | 'sha256'>): Promise<Picture[]> {
  const out: Picture[] = [];
  for (const [i, t] of document.getRoot().listTextures().entries()) {
    const bytes = t.getImage() ?? new Uint8Array();
    const stats = await tools.read(bytes).catch(() => null);
    out.push({ name: textureName(t, i), bytes: bytes.byteLength, sha: tools.sha256(bytes), stats });
  }
  return out;
}

const put = (t: Texture, p: PictureBytes) => t.setImage(p.bytes as Uint8Array<ArrayBuffer>).setMimeType(p.mime);

export async function runTextures(document: Document, { ops, maxEdge }: TextureSettings, tools: PictureTools): Promise<void> {
  const root = document.getRoot();
  const has = (op: TextureSettings['ops'][number]) => ops.includes(op);
  if (has('roles'))
    for (const m of root.listMaterials()) {
      const base = m.getBaseColorTexture();
      if (!base || m.getNormalTexture()) continue;
      const stats = await tools.read(base.getImage() ?? new Uint8Array()).catch(() => null);
      if (!stats || pictureLook(stats) !== 'normal map') continue;
      const set = m.getBaseColorTextureInfo()?.getTexCoord() ?? 0;
      m.setNormalTexture(base).setBaseColorTexture(null);
      m.getNormalTextureInfo()?.setTexCoord(set);
    }
  if (has('pack'))
    for (const m of root.listMaterials()) {
      const [occlusion, rest] = [m.getOcclusionTexture(), m.getMetallicRoughnessTexture()];
      if (!occlusion || !rest || occlusion === rest || wantedName(occlusion) !== null || wantedName(rest) !== null) continue;
      if ((m.getOcclusionTextureInfo()?.getTexCoord() ?? 0) !== (m.getMetallicRoughnessTextureInfo()?.getTexCoord() ?? 0)) continue;
      const packed = await tools.packRed(occlusion.getImage() ?? new Uint8Array(), rest.getImage() ?? new Uint8Array()).catch(() => null);
      if (!packed) continue;
      const t = put(document.createTexture(`${rest.getName() || m.getName()} packed`), packed);
      m.setOcclusionTexture(t).setMetallicRoughnessTexture(t);
    }
  for (const t of root.listTextures()) {
    const bytes = t.getImage();
    if (!bytes || wantedName(t) !== null) continue;
    const stats = await tools.read(bytes).catch(() => null);
    if (!stats) continue;
    if (has('resize') && Math.max(stats.width, stats.height) > maxEdge) put(t, await tools.resize(bytes, maxEdge));
    if (has('drop-alpha') && stats.hasAlpha && stats.alphaMin > 0.996) put(t, await tools.dropAlpha(t.getImage() as Uint8Array));
  }
  if (has('merge')) mergeAlike(document, tools.sha256);
}

function mergeAlike(document: Document, sha256: (b: Uint8Array) => string): void {
  const first = new Map<string, Texture>();
  for (const t of document.getRoot().listTextures()) {
    const bytes = t.getImage();
    if (!bytes || wantedName(t) !== null) continue;
    const sha = sha256(bytes);
    const had = first.get(sha);
    if (!had) {
      first.set(sha, t);
      continue;
    }
    for (const parent of t.listParents()) if (parent.propertyType !== 'Root') parent.swap(t, had);
    t.dispose();
  }
}

/** Puts painted pictures in the place of textures; returns what is not there any more. */
export async function runRepaint(
  document: Document,
  { links }: RepaintSettings,
  tools: Pick<PictureTools, 'sha256'> & { picture: (sha: string) => Promise<PictureBytes | null> },
): Promise<string[]> {
  const unmatched: string[] = [];
  for (const link of links) {
    const all = list(document);
    const same = link.was === null ? [] : all.filter((t) => t.getImage() && tools.sha256(t.getImage() as Uint8Array) === link.was);
    const textures = same.length > 0 ? same : all.filter((t, i) => textureName(t, i) === link.texture);
    const picture = textures.length > 0 ? await tools.picture(link.picture) : null;
    if (!picture)
      unmatched.push(textures.length > 0 ? `the picture ${link.name} is not at hand` : `there is no texture ${link.texture} any more`);
    else for (const t of textures) put(t, picture);
  }
  if (list(document).some((t) => t.getMimeType() === 'image/webp')) document.createExtension(EXTTextureWebP).setRequired(true);
  return unmatched;
}
const list = (document: Document) => document.getRoot().listTextures();

/** Puts pictures where they are wanted; returns the names nothing wants any more. */
export async function runRelink(
  document: Document,
  { links }: RelinkSettings,
  picture: (sha: string) => Promise<PictureBytes | null>,
): Promise<string[]> {
  const unmatched: string[] = [];
  for (const link of links) {
    // wanted, or there but broken: then it goes by its name
    const textures = document
      .getRoot()
      .listTextures()
      .filter((t, i) => wantedName(t) === link.wanted || (wantedName(t) === null && textureName(t, i) === link.wanted));
    const found = textures.length > 0 ? await picture(link.picture) : null;
    if (!found) {
      unmatched.push(
        textures.length > 0 ? `the picture ${link.name} for ${link.wanted} is not at hand` : `nothing asks for ${link.wanted} any more`,
      );
      continue;
    }
    for (const t of textures) {
      put(t, found).setName(link.name.replace(/^.*[/\\]/, ''));
      fulfil(t);
    }
  }
  return unmatched;
}
