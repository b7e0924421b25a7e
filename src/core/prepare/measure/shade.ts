/**
 * One shading per visible pixel: Lambert and a Blinn–Phong lobe under a light at the camera and one above; base colour, normal,
 * occlusion, roughness, metal and emissive textures. Tangents come from UV differences as in glTF 2.0, section 3.7.2.1.
 */
import { type Camera, NEAR_ZERO, type Screen } from './raster';
import type { Shape, Wear } from './shape';
import { linear, type MipTexture, sample } from './texture';

/** How a texture is seen in a view. */
export interface SeenTexture {
  /** Pixels it covers. */
  pixels: number;
  /** Sum of the mip levels it is seen at, over those pixels. */
  levels: number;
}
export interface Frame {
  shape: Shape;
  cam: Camera;
  textures: readonly (MipTexture | null)[];
  seen: Map<number, SeenTexture> | null;
}

export const SCRATCH = /* @__PURE__ */ new Float32Array(4);
const OTHER = /* @__PURE__ */ new Float32Array(4);

/** Directions on the surface in which u and v grow, and the mip level one pixel spans, of a triangle on screen. */
export interface Mapping {
  tangent: [number, number, number];
  bitangent: [number, number, number];
  /** UV area a pixel covers. */
  uvPerPixel: number;
  /** Mip level by texture; −1: not asked for yet. */
  levels: Int8Array;
}

/** Of what wears no texture. */
export const FLAT: Mapping = { tangent: [1, 0, 0], bitangent: [0, 1, 0], uvPerPixel: 0, levels: new Int8Array(0) };
/** Reused: one triangle is shaded at a time. */
const MAPPING: Mapping = { tangent: [1, 0, 0], bitangent: [0, 1, 0], uvPerPixel: 0, levels: new Int8Array(0) };

export function mappingOf({ shape, cam, textures }: Frame, a: number, b: number, c: number, sc: Screen): Mapping {
  const { positions: p, uvs } = shape;
  const du1 = uvs[b * 2] - uvs[a * 2];
  const dv1 = uvs[b * 2 + 1] - uvs[a * 2 + 1];
  const du2 = uvs[c * 2] - uvs[a * 2];
  const dv2 = uvs[c * 2 + 1] - uvs[a * 2 + 1];
  const det = du1 * dv2 - du2 * dv1;
  const ex = p[b * 3] - p[a * 3];
  const ey = p[b * 3 + 1] - p[a * 3 + 1];
  const ez = p[b * 3 + 2] - p[a * 3 + 2];
  const fx = p[c * 3] - p[a * 3];
  const fy = p[c * 3 + 1] - p[a * 3 + 1];
  const fz = p[c * 3 + 2] - p[a * 3 + 2];
  const { tangent, bitangent } = MAPPING;
  const inv = Math.abs(det) > NEAR_ZERO ? 1 / det : 0;
  tangent[0] = (ex * dv2 - fx * dv1) * inv;
  tangent[1] = (ey * dv2 - fy * dv1) * inv;
  tangent[2] = (ez * dv2 - fz * dv1) * inv;
  bitangent[0] = (fx * du1 - ex * du2) * inv;
  bitangent[1] = (fy * du1 - ey * du2) * inv;
  bitangent[2] = (fz * du1 - ez * du2) * inv;
  const onScreen = Math.abs((sc.x[b] - sc.x[a]) * (sc.y[c] - sc.y[a]) - (sc.y[b] - sc.y[a]) * (sc.x[c] - sc.x[a]));
  // a grazing triangle is not blurred beyond twice what it is face on (anisotropic filtering does as much)
  const faceOn = Math.sqrt((ey * fz - ez * fy) ** 2 + (ez * fx - ex * fz) ** 2 + (ex * fy - ey * fx) ** 2) * cam.scale ** 2;
  MAPPING.uvPerPixel = Math.abs(det) / Math.max(onScreen, faceOn / 4, NEAR_ZERO);
  if (MAPPING.levels.length < textures.length) MAPPING.levels = new Int8Array(textures.length);
  MAPPING.levels.fill(-1);
  return MAPPING;
}

/** A texture at the mip level a pixel spans; null where the material has none. */
function readTexture(f: Frame, at: number, map: Mapping, s: number, t: number, weight: number, into: Float32Array): Float32Array | null {
  const tex = at >= 0 ? f.textures[at] : null;
  if (!tex) return null;
  let level = map.levels[at] ?? 0;
  if (level < 0) {
    const size = tex.levels[0].width * tex.levels[0].height;
    level = Math.max(0, Math.round(0.5 * Math.log2(Math.max(1, map.uvPerPixel * size))));
    map.levels[at] = level;
  }
  if (f.seen) {
    const had = f.seen.get(at) ?? { pixels: 0, levels: 0 };
    had.pixels += weight;
    had.levels += level * weight;
    f.seen.set(at, had);
  }
  return sample(tex, level, s, t, into);
}

/** Colour of a point that stands for `weight` samples: linear RGB and alpha into `out`. */
export function shade(
  f: Frame,
  wear: Wear,
  a: number,
  b: number,
  c: number,
  v: number,
  w: number,
  weight: number,
  map: Mapping,
  out: Float32Array,
): void {
  const { shape, cam } = f;
  const u = 1 - v - w;
  const uvs = shape.uvs;
  const s = uvs[a * 2] * u + uvs[b * 2] * v + uvs[c * 2] * w;
  const t = uvs[a * 2 + 1] * u + uvs[b * 2 + 1] * v + uvs[c * 2 + 1] * w;
  let R = wear.base[0];
  let G = wear.base[1];
  let B = wear.base[2];
  let A = wear.base[3];
  const base = readTexture(f, wear.baseTexture, map, s, t, weight, SCRATCH);
  if (base) {
    R *= linear(base[0]);
    G *= linear(base[1]);
    B *= linear(base[2]);
    A *= base[3];
  }
  if (shape.colors) {
    const col = shape.colors;
    R *= col[a * 3] * u + col[b * 3] * v + col[c * 3] * w;
    G *= col[a * 3 + 1] * u + col[b * 3 + 1] * v + col[c * 3 + 1] * w;
    B *= col[a * 3 + 2] * u + col[b * 3 + 2] * v + col[c * 3 + 2] * w;
  }
  out[3] = wear.alpha === 'opaque' ? 1 : A;
  if (wear.unlit) {
    out[0] = R;
    out[1] = G;
    out[2] = B;
    return;
  }
  const n = shape.normals;
  let nx = n[a * 3] * u + n[b * 3] * v + n[c * 3] * w;
  let ny = n[a * 3 + 1] * u + n[b * 3 + 1] * v + n[c * 3 + 1] * w;
  let nz = n[a * 3 + 2] * u + n[b * 3 + 2] * v + n[c * 3 + 2] * w;
  if (nx * nx + ny * ny + nz * nz < NEAR_ZERO) [nx, ny, nz] = flatNormal(shape.positions, a, b, c);
  let l = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
  nx /= l;
  ny /= l;
  nz /= l;
  const bump = readTexture(f, wear.normalTexture, map, s, t, weight, OTHER);
  if (bump) {
    const bx = (bump[0] * 2 - 1) * wear.normalScale;
    const by = (bump[1] * 2 - 1) * wear.normalScale;
    const bz = bump[2] * 2 - 1;
    const { tangent: T, bitangent: Q } = map;
    const tl = Math.sqrt(T[0] * T[0] + T[1] * T[1] + T[2] * T[2]) || 1;
    const ql = Math.sqrt(Q[0] * Q[0] + Q[1] * Q[1] + Q[2] * Q[2]) || 1;
    // glTF's green points up the picture, v down
    const mx = (T[0] / tl) * bx - (Q[0] / ql) * by + nx * bz;
    const my = (T[1] / tl) * bx - (Q[1] / ql) * by + ny * bz;
    const mz = (T[2] / tl) * bx - (Q[2] / ql) * by + nz * bz;
    l = Math.sqrt(mx * mx + my * my + mz * mz) || 1;
    nx = mx / l;
    ny = my / l;
    nz = mz / l;
  }
  const { back, up } = cam;
  let facing = nx * back.x + ny * back.y + nz * back.z;
  if (facing < 0) {
    nx = -nx;
    ny = -ny;
    nz = -nz;
    facing = -facing;
  }
  const lifted = nx * up.x + ny * up.y + nz * up.z;
  let rough = wear.rough;
  let metal = wear.metal;
  let occlusion = 1;
  const rm = readTexture(f, wear.roughMetalTexture, map, s, t, weight, SCRATCH);
  if (rm) {
    rough *= rm[1];
    metal *= rm[2];
  }
  if (wear.occlusionTexture >= 0) {
    const o = readTexture(f, wear.occlusionTexture, map, s, t, weight, SCRATCH);
    if (o) occlusion = 1 + wear.occlusion * (o[0] - 1);
  }
  // sky and ground, a light at the eye, one half way up
  const half = Math.max(0, (facing + lifted) * Math.SQRT1_2);
  const diffuse = (0.3 + 0.12 * lifted) * occlusion + 0.45 * facing + 0.25 * half;
  const square = Math.max(0.05, rough) ** 2;
  const power = 2 / (square * square) - 2;
  const strength = ((power + 8) / 25) * 0.12;
  const sharp = Math.min(power, 400);
  const gloss = Math.min(4, strength * (facing ** sharp + 0.5 * half ** sharp));
  const keep = 1 - 0.7 * metal;
  const plain = 0.04 * (1 - metal);
  let eR = wear.emissive[0];
  let eG = wear.emissive[1];
  let eB = wear.emissive[2];
  if (wear.emissiveTexture >= 0 && eR + eG + eB > 0) {
    const e = readTexture(f, wear.emissiveTexture, map, s, t, weight, SCRATCH);
    if (e) {
      eR *= linear(e[0]);
      eG *= linear(e[1]);
      eB *= linear(e[2]);
    }
  }
  out[0] = R * diffuse * keep + gloss * (plain + R * metal) + eR;
  out[1] = G * diffuse * keep + gloss * (plain + G * metal) + eG;
  out[2] = B * diffuse * keep + gloss * (plain + B * metal) + eB;
}

function flatNormal(p: Float32Array, a: number, b: number, c: number): [number, number, number] {
  const [ux, uy, uz] = [p[b * 3] - p[a * 3], p[b * 3 + 1] - p[a * 3 + 1], p[b * 3 + 2] - p[a * 3 + 2]];
  const [vx, vy, vz] = [p[c * 3] - p[a * 3], p[c * 3 + 1] - p[a * 3 + 1], p[c * 3 + 2] - p[a * 3 + 2]];
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
}
