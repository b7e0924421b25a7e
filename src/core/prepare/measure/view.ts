/** A view of a shape over a middle grey: shaded, with its cover, at two samples a pixel side. */
import { type Camera, type Front, fill, frontOf, project, scan } from './raster';
import { FLAT, type Frame, type Mapping, mappingOf, SCRATCH, type SeenTexture, shade } from './shade';
import type { Shape } from './shape';
import { encode, type MipTexture, sample } from './texture';

export interface View {
  width: number;
  height: number;
  /** Grey of sRGB colours (ITU-R BT.601 luma), 0 to 1, over a middle grey. */
  luma: Float32Array;
  /** How much of the pixel the shape covers: 0 to `FULL`. */
  cover: Uint8Array;
  /** Texture → what was seen of it; asked for with `seen`. */
  seen: Map<number, SeenTexture>;
}
export const BACKGROUND = 0.5;
/** Cover of a whole pixel. */
export const FULL = 240;

/** Samples a pixel side: edges come out grey, and a shift of a tenth of a pixel does not count as a whole one. */
const SUPER = 2;

/** Held between views: a search draws thousands of them, and none is kept. */
let held: Front = frontOf(0);
function frontFor(size: number): Front {
  if (held.depth.length < size) held = frontOf(size);
  else {
    held.depth.fill(-Infinity, 0, size);
    held.owner.fill(-1, 0, size);
  }
  return held;
}

/**
 * Draws a shape over a middle grey.
 * @param textures by their number in the document; null where one cannot be read (its factor alone is drawn)
 * @param seen notes at which size every texture is seen
 */
export function drawView(shape: Shape, textures: readonly (MipTexture | null)[], camera: Camera, seen = false): View {
  const cam = { ...camera, width: camera.width * SUPER, height: camera.height * SUPER, scale: camera.scale * SUPER };
  const size = cam.width * cam.height;
  const f: Frame = { shape, cam, textures, seen: seen ? new Map() : null };
  const sc = project(shape, cam);
  const front = frontFor(size);
  const { depth, owner, v: atV, w: atW } = front;
  const t = shape.triangles;
  const blended: number[] = [];
  for (let i = 0; i < t.length; i += 3) {
    const wear = shape.wears[shape.wear[i / 3]];
    if (wear.alpha === 'blend') {
      blended.push(i);
      continue;
    }
    const a = t[i];
    const b = t[i + 1];
    const c = t[i + 2];
    const cut = wear.alpha === 'mask' && wear.baseTexture >= 0 ? textures[wear.baseTexture] : null;
    const solid = wear.alpha === 'opaque' || wear.base[3] >= wear.cutoff;
    if (!cut && !solid) continue;
    if (!cut) {
      fill(sc, a, b, c, cam.width, cam.height, wear.doubleSided, i, front);
      continue;
    }
    scan(sc, a, b, c, cam.width, cam.height, wear.doubleSided, (px, z, v, w) => {
      if (z <= depth[px]) return;
      const [u, uv] = [1 - v - w, shape.uvs];
      sample(cut, 0, uv[a * 2] * u + uv[b * 2] * v + uv[c * 2] * w, uv[a * 2 + 1] * u + uv[b * 2 + 1] * v + uv[c * 2 + 1] * w, SCRATCH);
      if (SCRATCH[3] * wear.base[3] < wear.cutoff) return;
      depth[px] = z;
      owner[px] = i;
      atV[px] = v;
      atW[px] = w;
    });
  }
  const lit = new Float32Array(4);
  let last = -1;
  let map: Mapping = FLAT;
  const textured = textures.length > 0;
  /** Luma of what triangle `i` shows at a place in it that stands for `n` samples. */
  const lumaAt = (i: number, v: number, w: number, n: number): number => {
    // who wears no texture needs none of it
    if (i !== last && textured) {
      map = mappingOf(f, t[i], t[i + 1], t[i + 2], sc);
      last = i;
    }
    shade(f, shape.wears[shape.wear[i / 3]], t[i], t[i + 1], t[i + 2], v, w, n, map, lit);
    return lumaOf(lit);
  };
  const sheer = blended.length > 0 ? { grey: new Float32Array(size).fill(BACKGROUND), alpha: new Float32Array(size) } : null;
  const luma = new Float32Array(camera.width * camera.height).fill(BACKGROUND);
  const cover = new Uint8Array(camera.width * camera.height);
  const block = new Int32Array(SUPER ** 2);
  const lumas = new Float32Array(SUPER ** 2);
  for (let y = 0; y < camera.height; y++)
    for (let x = 0; x < camera.width; x++) {
      const p0 = y * SUPER * cam.width + x * SUPER;
      const p2 = p0 + cam.width;
      const i = owner[p0];
      // most pixels show one triangle, or nothing
      if (i === owner[p0 + 1] && i === owner[p2] && i === owner[p2 + 1]) {
        if (i < 0) continue;
        const one = lumaAt(i, (atV[p0] + atV[p0 + 1] + atV[p2] + atV[p2 + 1]) / 4, (atW[p0] + atW[p0 + 1] + atW[p2] + atW[p2 + 1]) / 4, 4);
        if (!sheer) {
          luma[y * camera.width + x] = one;
          cover[y * camera.width + x] = FULL;
          continue;
        }
        sheer.grey[p0] = sheer.grey[p0 + 1] = sheer.grey[p2] = sheer.grey[p2 + 1] = one;
        sheer.alpha[p0] = sheer.alpha[p0 + 1] = sheer.alpha[p2] = sheer.alpha[p2 + 1] = 1;
        continue;
      }
      block[0] = p0;
      block[1] = p0 + 1;
      block[2] = p2;
      block[3] = p2 + 1;
      lumas.fill(BACKGROUND);
      let covered = 0;
      // what one triangle shows of a pixel is shaded once, in the middle of it
      for (let k = 0; k < block.length; k++) {
        const i = owner[block[k]];
        let first = i >= 0;
        for (let m = 0; m < k; m++) first &&= owner[block[m]] !== i;
        if (!first) continue;
        let v = 0;
        let w = 0;
        let n = 0;
        for (let m = k; m < block.length; m++)
          if (owner[block[m]] === i) {
            v += atV[block[m]];
            w += atW[block[m]];
            n++;
          }
        const one = lumaAt(i, v / n, w / n, n);
        for (let m = k; m < block.length; m++) if (owner[block[m]] === i) lumas[m] = one;
        covered += n;
      }
      if (!sheer) {
        luma[y * camera.width + x] = (lumas[0] + lumas[1] + lumas[2] + lumas[3]) / 4;
        cover[y * camera.width + x] = Math.round((covered * FULL) / 4);
        continue;
      }
      for (let k = 0; k < block.length; k++) {
        if (owner[block[k]] < 0) continue;
        sheer.grey[block[k]] = lumas[k];
        sheer.alpha[block[k]] = 1;
      }
    }
  if (sheer) {
    const { grey, alpha } = sheer;
    const middle = (i: number) => sc.z[t[i]] + sc.z[t[i + 1]] + sc.z[t[i + 2]];
    for (const i of blended.sort((p, q) => middle(p) - middle(q) || p - q)) {
      const wear = shape.wears[shape.wear[i / 3]];
      const m = mappingOf(f, t[i], t[i + 1], t[i + 2], sc);
      scan(sc, t[i], t[i + 1], t[i + 2], cam.width, cam.height, wear.doubleSided, (px, z, v, w) => {
        if (z <= depth[px]) return;
        shade(f, wear, t[i], t[i + 1], t[i + 2], v, w, 1, m, lit);
        const o = Math.min(1, Math.max(0, lit[3]));
        // blended as a browser's frame is: in the numbers it shows
        grey[px] += (lumaOf(lit) - grey[px]) * o;
        alpha[px] += (1 - alpha[px]) * o;
      });
    }
    shrink(camera.width, camera.height, grey, alpha, luma, cover);
  }
  const shown = [...(f.seen ?? [])].map(([k, s]) => [k, { pixels: s.pixels / SUPER ** 2, levels: s.levels / SUPER ** 2 }] as const);
  return { width: camera.width, height: camera.height, luma, cover, seen: new Map(shown) };
}

/** Luma of linear RGB (ITU-R BT.601 on sRGB numbers). */
const lumaOf = (c: Float32Array): number => 0.299 * encode(c[0]) + 0.587 * encode(c[1]) + 0.114 * encode(c[2]);

/** Samples as pixels. */
function shrink(width: number, height: number, grey: Float32Array, alpha: Float32Array, luma: Float32Array, cover: Uint8Array): void {
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p0 = y * SUPER * width * SUPER + x * SUPER;
      const p2 = p0 + width * SUPER;
      const covered = alpha[p0] + alpha[p0 + 1] + alpha[p2] + alpha[p2 + 1];
      if (covered === 0) continue;
      luma[y * width + x] = (grey[p0] + grey[p0 + 1] + grey[p2] + grey[p2 + 1]) / SUPER ** 2;
      cover[y * width + x] = Math.round((covered * FULL) / SUPER ** 2);
    }
}
