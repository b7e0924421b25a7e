/**
 * The atlas step: materials that are alike but for their pictures become one, their pictures parts of larger ones. Each part is
 * surrounded by its own outermost pixels, so that filtering at its rim reads nothing of its neighbours.
 */
import type { Accessor, Document, Material, Primitive, Texture, TextureInfo } from '@gltf-transform/core';
import potpack from 'potpack';
import { wantedName } from '../intake/wanted';
import { readFloats } from '../model/arrays';
import type { AtlasSettings } from '../piece/recipe';
import type { AtlasPart, PictureTools } from './picturetools';

/** Pixels round each part: three mip levels stay clean. */
const GUTTER = 4;
/** Beyond 0 and 1 by this much a picture counts as repeated. */
const SLACK = 1e-4;

const SLOTS = [
  { get: (m: Material) => m.getBaseColorTexture(), info: (m: Material) => m.getBaseColorTextureInfo(), set: 'setBaseColorTexture' },
  { get: (m: Material) => m.getNormalTexture(), info: (m: Material) => m.getNormalTextureInfo(), set: 'setNormalTexture' },
  {
    get: (m: Material) => m.getMetallicRoughnessTexture(),
    info: (m: Material) => m.getMetallicRoughnessTextureInfo(),
    set: 'setMetallicRoughnessTexture',
  },
  { get: (m: Material) => m.getOcclusionTexture(), info: (m: Material) => m.getOcclusionTextureInfo(), set: 'setOcclusionTexture' },
  { get: (m: Material) => m.getEmissiveTexture(), info: (m: Material) => m.getEmissiveTextureInfo(), set: 'setEmissiveTexture' },
] as const;

const picturesOf = (m: Material): (Texture | null)[] => SLOTS.map((s) => s.get(m));

/** Everything a material is besides its pictures: what differs in it cannot share one. */
function likeness(m: Material): string {
  return JSON.stringify([
    m.getAlphaMode(),
    m.getAlphaMode() === 'MASK' ? m.getAlphaCutoff() : 0,
    m.getDoubleSided(),
    m.getBaseColorFactor(),
    m.getMetallicFactor(),
    m.getRoughnessFactor(),
    m.getEmissiveFactor(),
    m.getNormalScale(),
    m.getOcclusionStrength(),
    picturesOf(m).map((t) => t !== null),
    // occlusion may lie in the picture of roughness and metal
    m.getOcclusionTexture() !== null && m.getOcclusionTexture() === m.getMetallicRoughnessTexture(),
  ]);
}

const isPlain = (info: TextureInfo | null) => !info || (info.getTexCoord() === 0 && info.listExtensions().length === 0);

interface Member {
  material: Material;
  primitives: Primitive[];
  /** Of its part, without the gutter. */
  width: number;
  height: number;
}

/** A material that can take part; null where its pictures repeat, are moved, missing, or read by another set of UVs. */
function memberOf(document: Document, material: Material): Member | null {
  const pictures = picturesOf(material).filter((t) => t !== null);
  if (pictures.length === 0 || material.listExtensions().length > 0) return null;
  if (pictures.some((t) => !t.getImage() || wantedName(t) !== null || t.getMimeType() === 'image/ktx2')) return null;
  if (SLOTS.some((s) => s.get(material) && !isPlain(s.info(material)))) return null;
  const primitives = document
    .getRoot()
    .listMeshes()
    .flatMap((m) => m.listPrimitives().filter((p) => p.getMaterial() === material));
  for (const p of primitives) {
    const uv = p.getAttribute('TEXCOORD_0');
    if (!uv) return null;
    for (const x of readFloats(uv)) if (!(x >= -SLACK && x <= 1 + SLACK)) return null;
  }
  const sizes = pictures.map((t) => t.getSize() ?? [0, 0]);
  const [width, height] = [Math.max(...sizes.map((s) => s[0])), Math.max(...sizes.map((s) => s[1]))];
  return primitives.length > 0 && width > 0 && height > 0 ? { material, primitives, width, height } : null;
}

/** Where each part lies; all are made smaller together until they fit. */
function layOut(members: readonly Member[], maxEdge: number) {
  for (let scale = 1; ; scale *= 0.92) {
    const boxes = members.map(({ width, height }) => {
      const [w, h] = [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
      return { width: w, height: h, w: w + 2 * GUTTER, h: h + 2 * GUTTER, x: 0, y: 0 };
    });
    // the packer sorts what it is given
    const { w, h } = potpack([...boxes]);
    if (Math.max(w, h) <= maxEdge || scale < 1e-3) return { boxes, width: w, height: h };
  }
}

/** Materials that draw alike, together; those of one have nothing to share. */
function groupsOf(document: Document): Member[][] {
  const groups = new Map<string, Member[]>();
  for (const m of document.getRoot().listMaterials()) {
    const member = memberOf(document, m);
    if (!member) continue;
    const key = likeness(m);
    groups.set(key, [...(groups.get(key) ?? []), member]);
  }
  return [...groups.values()].filter((g) => g.length > 1);
}

export async function runAtlas(document: Document, { maxEdge }: AtlasSettings, tools: Pick<PictureTools, 'atlas'>): Promise<void> {
  for (const members of groupsOf(document)) {
    const { boxes, width, height } = layOut(members, maxEdge);
    const [first, ...others] = members;
    const made = new Map<string, Texture>();
    const put: [(typeof SLOTS)[number]['set'], Texture][] = [];
    for (const slot of SLOTS) {
      if (!slot.get(first.material)) continue;
      // one picture may serve two roles
      const key = members
        .map((m) =>
          document
            .getRoot()
            .listTextures()
            .indexOf(slot.get(m.material) as Texture),
        )
        .join();
      const parts = members.map((m, i): AtlasPart => {
        const { x, y, width: w, height: h } = boxes[i];
        const bytes = slot.get(m.material)?.getImage() as Uint8Array;
        return { bytes, x: x + GUTTER, y: y + GUTTER, width: w, height: h, gutter: GUTTER };
      });
      let texture = made.get(key);
      if (!texture) {
        const picture = await tools.atlas(width, height, parts);
        texture = document
          .createTexture(members.map((m) => slot.get(m.material)?.getName() || m.material.getName()).join(' + '))
          .setImage(picture.bytes as Uint8Array<ArrayBuffer>)
          .setMimeType(picture.mime);
        made.set(key, texture);
      }
      put.push([slot.set, texture]);
    }
    members.forEach((m, i) => {
      moveUvs(document, m.primitives, boxes[i], width, height);
    });
    for (const [set, texture] of put) first.material[set](texture);
    for (const slot of SLOTS) if (slot.get(first.material)) slot.info(first.material)?.setWrapS(33071).setWrapT(33071);
    for (const other of others) {
      for (const p of other.primitives) p.setMaterial(first.material);
      other.material.dispose();
    }
  }
}

function moveUvs(
  document: Document,
  primitives: readonly Primitive[],
  box: { x: number; y: number; width: number; height: number },
  width: number,
  height: number,
): void {
  const moved = new Map<Accessor, Accessor>();
  for (const p of primitives) {
    const uv = p.getAttribute('TEXCOORD_0') as Accessor;
    let to = moved.get(uv);
    if (!to) {
      const values = readFloats(uv).slice();
      for (let i = 0; i < values.length; i += 2) {
        values[i] = (box.x + GUTTER + Math.min(1, Math.max(0, values[i])) * box.width) / width;
        values[i + 1] = (box.y + GUTTER + Math.min(1, Math.max(0, values[i + 1])) * box.height) / height;
      }
      to = document.createAccessor().setType('VEC2').setArray(values).setBuffer(uv.getBuffer());
      moved.set(uv, to);
    }
    p.setAttribute('TEXCOORD_0', to);
  }
}
