/** Pictures on the model: sizes, alpha, repeats, roles. */
import type { Material, Texture, TextureInfo } from '@gltf-transform/core';
import type { Transform } from '@gltf-transform/extensions';
import { triangleArea } from '../../model/lie/sample';
import type { Finding } from '../findings';
import { type CheckContext, count, finding, placedPrimitives, some, textureFix } from './context';
import { pictureLook } from './pictures';

/** A usual ceiling of places of delivery (*common practice*). */
export const USUAL_EDGE = 1024;
/** What a phone shows of a face that fills its picture: 1080 px over about 250 mm, doubled for a closer look (*common practice*). */
export const USEFUL_TEXELS_PER_MM = 8;
const LEAST_EDGE = 256;

/** Bytes a picture takes on a device once it is unpacked: four a pixel, with its smaller copies down to one pixel. */
export function bytesWithMips(width: number, height: number): number {
  let bytes = 0;
  for (let [w, h] = [width, height]; w > 0 && h > 0; [w, h] = [Math.max(1, w >> 1), Math.max(1, h >> 1)]) {
    bytes += w * h * 4;
    if (w === 1 && h === 1) break;
  }
  return bytes;
}

export type Slot = 'base colour' | 'normal' | 'roughness and metal' | 'occlusion' | 'emissive';
export const SLOTS: readonly { slot: Slot; texture: (m: Material) => Texture | null; info: (m: Material) => TextureInfo | null }[] = [
  { slot: 'base colour', texture: (m) => m.getBaseColorTexture(), info: (m) => m.getBaseColorTextureInfo() },
  { slot: 'normal', texture: (m) => m.getNormalTexture(), info: (m) => m.getNormalTextureInfo() },
  { slot: 'roughness and metal', texture: (m) => m.getMetallicRoughnessTexture(), info: (m) => m.getMetallicRoughnessTextureInfo() },
  { slot: 'occlusion', texture: (m) => m.getOcclusionTexture(), info: (m) => m.getOcclusionTextureInfo() },
  { slot: 'emissive', texture: (m) => m.getEmissiveTexture(), info: (m) => m.getEmissiveTextureInfo() },
];

export const textureName = (t: Texture, i: number): string => t.getName() || t.getURI() || `picture ${i}`;

/** The share of a texture's surface that may have fewer texels a millimetre than what is told of it. */
const COARSEST = 0.1;

/** Size of a picture on UVs of 1: KHR_texture_transform's scale, across times down. */
function repeatsOf(info: TextureInfo | null): number {
  const [x, y] = info?.getExtension<Transform>('KHR_texture_transform')?.getScale() ?? [1, 1];
  return Math.abs(x * y);
}

/**
 * Texels per millimetre of surface, at the scale the model has now, of each texture; 0 where nothing wears it. Of a picture worn in
 * several densities the coarsest, but for a tenth of its surface: made smaller, it shows there first. Surfaces that wear one spot of it
 * (a palette) do not count.
 */
export function texelDensities({ document, model, pictures }: Pick<CheckContext, 'document' | 'model' | 'pictures'>): number[] {
  const textures = document.getRoot().listTextures();
  const raw = placedPrimitives(document);
  const worn = textures.map(() => [] as { density: number; mm2: number }[]);
  const scale = nodeScales(model);
  const row: number[] = [];
  for (const [m, mesh] of model.meshes.entries())
    for (const [i, p] of mesh.primitives.entries()) {
      const material = raw[m][i].getMaterial();
      if (!material) continue;
      for (const { texture, info } of SLOTS) {
        const at = textures.indexOf(texture(material) as Texture);
        const stats = pictures[at]?.stats;
        const uv = raw[m][i].getAttribute(`TEXCOORD_${info(material)?.getTexCoord() ?? 0}`);
        if (!stats || !uv) continue;
        const texels = stats.width * stats.height * repeatsOf(info(material));
        const flat = new Float32Array(uv.getCount() * 3);
        for (let v = 0; v < uv.getCount(); v++) flat.set(uv.getElement(v, row).slice(0, 2), v * 3);
        for (let t = 0; t + 2 < p.triangles.length; t += 3) {
          const [a, b, c] = [p.triangles[t], p.triangles[t + 1], p.triangles[t + 2]];
          const mm2 = (triangleArea(p.positions, a, b, c) || 0) * 1e6 * scale[m] ** 2;
          const area = (triangleArea(flat, a, b, c) || 0) * texels;
          // less than a texel of it: a spot
          if (mm2 > 0 && area > 0.5) worn[at].push({ density: Math.sqrt(area / mm2), mm2 });
        }
      }
    }
  return worn.map((list) => {
    const all = list.reduce((s, x) => s + x.mm2, 0);
    let below = 0;
    for (const x of list.sort((p, q) => p.density - q.density)) {
      below += x.mm2;
      if (below >= all * COARSEST) return x.density;
    }
    return 0;
  });
}

/** Scale from mesh to world, by mesh: of its first node. */
function nodeScales(model: CheckContext['model']): number[] {
  return model.meshes.map((_, m) => {
    let s = 1;
    for (let n = model.nodes.find((x) => x.mesh === m); n; n = model.nodes[n.parent]) s *= Math.max(...n.scale.map(Math.abs));
    return s;
  });
}

/** The longest edge that is of use: a power of two, at least 256. */
export function usefulEdge(edge: number, density: number): number {
  if (!(density > 0)) return Math.min(edge, USUAL_EDGE);
  const wanted = edge * (USEFUL_TEXELS_PER_MM / density);
  return Math.min(edge, USUAL_EDGE, Math.max(LEAST_EDGE, 2 ** Math.ceil(Math.log2(Math.max(1, wanted)))));
}

export function checkTextures(c: CheckContext): Finding[] {
  const out: Finding[] = [];
  const textures = c.document.getRoot().listTextures();
  const materials = c.document.getRoot().listMaterials();
  const name = (i: number) => c.pictures[i].name;
  const density = texelDensities(c);
  const readable = c.pictures.flatMap((p, i) => (p.stats ? [{ i, stats: p.stats }] : []));

  const large = readable.filter(
    ({ stats, i }) => Math.max(stats.width, stats.height) > usefulEdge(Math.max(stats.width, stats.height), density[i]),
  );
  if (large.length) {
    const edges = large.map(({ stats, i }) => usefulEdge(Math.max(stats.width, stats.height), density[i]));
    const edge = Math.max(...edges);
    const widest = large.reduce((a, b) => (Math.max(b.stats.width, b.stats.height) > Math.max(a.stats.width, a.stats.height) ? b : a));
    const px = Math.max(widest.stats.width, widest.stats.height);
    const per =
      density[widest.i] > 0
        ? ` That is ${density[widest.i].toPrecision(2)} texels a millimetre; a phone shows about ${USEFUL_TEXELS_PER_MM}.`
        : '';
    out.push(
      finding(
        'texture/large',
        px > USUAL_EDGE ? 'warning' : 'note',
        `${large.length === 1 ? 'One picture is' : `${large.length} pictures are`} up to ${px} px.${per} ${edge} px looks the same.`,
        some(large.map(({ i }) => name(i))),
        textureFix(
          'resize',
          edge,
          ...large.map(({ i, stats }) => `${name(i)}: ${stats.width} × ${stats.height} px, at most ${edge} px after.`),
        ),
      ),
    );
  }

  const idle = readable.filter(({ stats }) => stats.hasAlpha && stats.alphaMin > 0.996);
  if (idle.length)
    out.push(
      finding(
        'texture/alpha-unused',
        'note',
        `${idle.length === 1 ? 'One picture carries' : `${idle.length} pictures carry`} an alpha channel that is opaque everywhere.`,
        some(idle.map(({ i }) => name(i))),
        textureFix('drop-alpha', USUAL_EDGE, ...idle.map(({ i }) => `${name(i)} kept without alpha.`)),
      ),
    );

  const first = new Map<string, number>();
  const repeats = c.pictures.flatMap((p, i) => {
    const had = first.get(p.sha);
    if (had === undefined) first.set(p.sha, i);
    return had === undefined ? [] : [{ i, had }];
  });
  if (repeats.length)
    out.push(
      finding(
        'texture/duplicates',
        'note',
        `${count(repeats.length, 'picture is', 'pictures are')} in the file twice, byte for byte.`,
        some(repeats.map(({ i }) => name(i))),
        textureFix('merge', USUAL_EDGE, ...repeats.map(({ i, had }) => `${name(i)} shared with ${name(had)}.`)),
      ),
    );

  for (const m of materials) {
    const base = m.getBaseColorTexture();
    const stats = base ? c.pictures[textures.indexOf(base)]?.stats : null;
    if (base && stats && pictureLook(stats) === 'normal map')
      out.push(
        finding(
          'texture/role',
          'warning',
          `${name(textures.indexOf(base))} looks like a normal map, but is worn as colour: the model shows blue.`,
          m.getName() || undefined,
          m.getNormalTexture()
            ? undefined
            : textureFix(
                'roles',
                USUAL_EDGE,
                `${name(textures.indexOf(base))} becomes the normal map of ${m.getName() || 'its material'}.`,
              ),
        ),
      );
    const normal = m.getNormalTexture();
    const normalStats = normal ? c.pictures[textures.indexOf(normal)]?.stats : null;
    if (normal && normalStats && pictureLook(normalStats) !== 'normal map' && normalStats.width > 1)
      out.push(
        finding(
          'texture/role',
          'warning',
          `${name(textures.indexOf(normal))} is worn as normal map but does not look like one: light falls wrongly.`,
          m.getName() || undefined,
        ),
      );
  }

  const apart = materials.filter((m) => {
    const [o, r] = [m.getOcclusionTexture(), m.getMetallicRoughnessTexture()];
    const sets = (m.getOcclusionTextureInfo()?.getTexCoord() ?? 0) === (m.getMetallicRoughnessTextureInfo()?.getTexCoord() ?? 0);
    return o && r && o !== r && sets && c.pictures[textures.indexOf(o)]?.stats && c.pictures[textures.indexOf(r)]?.stats;
  });
  if (apart.length)
    out.push(
      finding(
        'texture/not-packed',
        'note',
        `Occlusion lies in a picture of its own beside roughness and metal in ${count(apart.length, 'material')}. One picture holds all three.`,
        some(apart.map((m) => m.getName() || 'unnamed')),
        textureFix(
          'pack',
          USUAL_EDGE,
          ...apart.map((m) => `${m.getName() || 'unnamed'}: occlusion goes into the red of its roughness and metal.`),
        ),
      ),
    );
  return out;
}
