/**
 * A small z-buffer rasteriser: the same picture in the command line, a worker and a test, without a graphics card.
 * Orthographic views; visibility first, then one shading per visible pixel: Lambert and a Blinn–Phong lobe under a light at the
 * camera and one above, base colour, normal, occlusion, roughness, metal and emissive textures read from mip levels.
 * (Pineda, A parallel algorithm for polygon rasterization, 1988; tangents from UV differences as in glTF 2.0, section 3.7.2.1.)
 */
import type { Vector3 } from 'three';
import type { Pixels } from '../../intake/media/pixels';
import type { Shape, Wear } from './shape';

/** A texture with its smaller copies, each half the size of the one before. */
export interface MipTexture {
  levels: Pixels[];
}

/** Box-filtered mip levels. Averages the stored numbers, as a browser's `generateMipmap` of an 8-bit texture does to first order. */
export function mipTexture(pixels: Pixels): MipTexture {
  const levels = [pixels];
  for (let p = pixels; p.width > 1 || p.height > 1; ) {
    const width = Math.max(1, p.width >> 1);
    const height = Math.max(1, p.height >> 1);
    const data = new Uint8Array(width * height * 4);
    const [sx, sy] = [p.width > 1 ? 1 : 0, p.height > 1 ? 1 : 0];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const at = ((y << sy) * p.width + (x << sx)) * 4;
        for (let k = 0; k < 4; k++)
          data[(y * width + x) * 4 + k] =
            (p.data[at + k] +
              p.data[at + sx * 4 + k] +
              p.data[at + sy * p.width * 4 + k] +
              p.data[at + sx * 4 + sy * p.width * 4 + k] +
              2) >>
            2;
      }
    p = { width, height, data };
    levels.push(p);
  }
  return { levels };
}

/** An orthographic camera: `right`, `up` and `back` (towards the eye) are unit and at right angles. */
export interface Camera {
  right: Vector3;
  up: Vector3;
  back: Vector3;
  centre: Vector3;
  /** Pixels a metre. */
  scale: number;
  width: number;
  height: number;
}

export interface View {
  width: number;
  height: number;
  /** Grey of sRGB colours (ITU-R BT.601 luma), 0 to 1, over a middle grey. */
  luma: Float32Array;
  /** sRGB, 0 to 255, three a pixel. */
  rgb: Uint8Array;
  /** How much of the pixel the shape covers: 0 to `FULL`. */
  cover: Uint8Array;
  /** Texture → what was seen of it; asked for with `seen`. */
  seen: Map<number, SeenTexture>;
}
export interface SeenTexture {
  /** Pixels it covers. */
  pixels: number;
  /** Sum of the mip levels it is seen at, over those pixels. */
  levels: number;
}

export const BACKGROUND = 0.5;
/** Cover of a whole pixel. */
export const FULL = 240;
const NEAR_ZERO = 1e-12;

/** Triangle setup in pixels: corner positions and depths. */
interface Screen {
  x: Float32Array;
  y: Float32Array;
  /** Larger is nearer. */
  z: Float32Array;
}

function project(shape: Shape, cam: Camera): Screen {
  const n = shape.positions.length / 3;
  const out = { x: new Float32Array(n), y: new Float32Array(n), z: new Float32Array(n) };
  const { right: r, up: u, back: b, centre: c, scale: s } = cam;
  const p = shape.positions;
  for (let i = 0; i < n; i++) {
    const [X, Y, Z] = [p[i * 3] - c.x, p[i * 3 + 1] - c.y, p[i * 3 + 2] - c.z];
    out.x[i] = cam.width / 2 + (X * r.x + Y * r.y + Z * r.z) * s;
    out.y[i] = cam.height / 2 - (X * u.x + Y * u.y + Z * u.z) * s;
    out.z[i] = (X * b.x + Y * b.y + Z * b.z) * s;
  }
  return out;
}

/** Calls `put` for every pixel centre inside the triangle, with its depth and its weights on the second and third corner. */
function scan(
  sc: Screen,
  ia: number,
  ib: number,
  ic: number,
  width: number,
  height: number,
  both: boolean,
  put: (pixel: number, z: number, v: number, w: number) => void,
): void {
  const ax = sc.x[ia];
  const ay = sc.y[ia];
  const ux = sc.x[ib] - ax;
  const uy = sc.y[ib] - ay;
  const wx = sc.x[ic] - ax;
  const wy = sc.y[ic] - ay;
  const area = ux * wy - uy * wx;
  // rows go down: what turns left in the world turns right here
  if (!(Math.abs(area) > NEAR_ZERO) || (area > 0 && !both)) return;
  const x0 = Math.max(0, Math.ceil(ax + Math.min(0, ux, wx) - 0.5));
  const x1 = Math.min(width - 1, Math.floor(ax + Math.max(0, ux, wx) - 0.5));
  const y0 = Math.max(0, Math.ceil(ay + Math.min(0, uy, wy) - 0.5));
  const y1 = Math.min(height - 1, Math.floor(ay + Math.max(0, uy, wy) - 0.5));
  const za = sc.z[ia];
  const zu = sc.z[ib] - za;
  const zw = sc.z[ic] - za;
  for (let y = y0; y <= y1; y++) {
    const dy = y + 0.5 - ay;
    for (let x = x0; x <= x1; x++) {
      const dx = x + 0.5 - ax;
      const v = (dx * wy - dy * wx) / area;
      const w = (ux * dy - uy * dx) / area;
      if (v < -1e-6 || w < -1e-6 || v + w > 1 + 1e-6) continue;
      put(y * width + x, za + v * zu + w * zw, v, w);
    }
  }
}

/** What is nearest at every pixel: its depth, which triangle, and where on it. */
interface Front {
  depth: Float32Array;
  owner: Int32Array;
  v: Float32Array;
  w: Float32Array;
}

/** `scan` for what hides all behind it, without a call per pixel: nine tenths of the time goes here. */
function fill(
  sc: Screen,
  ia: number,
  ib: number,
  ic: number,
  width: number,
  height: number,
  both: boolean,
  id: number,
  front: Front,
): void {
  const ax = sc.x[ia];
  const ay = sc.y[ia];
  const ux = sc.x[ib] - ax;
  const uy = sc.y[ib] - ay;
  const wx = sc.x[ic] - ax;
  const wy = sc.y[ic] - ay;
  const area = ux * wy - uy * wx;
  if (!(Math.abs(area) > NEAR_ZERO) || (area > 0 && !both)) return;
  const x0 = Math.max(0, Math.ceil(ax + Math.min(0, ux, wx) - 0.5));
  const x1 = Math.min(width - 1, Math.floor(ax + Math.max(0, ux, wx) - 0.5));
  const y0 = Math.max(0, Math.ceil(ay + Math.min(0, uy, wy) - 0.5));
  const y1 = Math.min(height - 1, Math.floor(ay + Math.max(0, uy, wy) - 0.5));
  const za = sc.z[ia];
  const zu = sc.z[ib] - za;
  const zw = sc.z[ic] - za;
  const inv = 1 / area;
  const { depth, owner } = front;
  for (let y = y0; y <= y1; y++) {
    const dy = y + 0.5 - ay;
    for (let x = x0; x <= x1; x++) {
      const dx = x + 0.5 - ax;
      const v = (dx * wy - dy * wx) * inv;
      const w = (ux * dy - uy * dx) * inv;
      if (v < -1e-6 || w < -1e-6 || v + w > 1 + 1e-6) continue;
      const z = za + v * zu + w * zw;
      const px = y * width + x;
      if (z <= depth[px]) continue;
      depth[px] = z;
      owner[px] = id;
      front.v[px] = v;
      front.w[px] = w;
    }
  }
}

const frontOf = (size: number): Front => ({
  depth: new Float32Array(size).fill(-Infinity),
  owner: new Int32Array(size).fill(-1),
  v: new Float32Array(size),
  w: new Float32Array(size),
});

/** Nearest depth of every pixel, −∞ where nothing is: what visibility is judged from. Pixels as in `Camera`. */
export function depthMap(shape: Shape, cam: Camera): Float32Array {
  const front = frontOf(cam.width * cam.height);
  const sc = project(shape, cam);
  const t = shape.triangles;
  for (let i = 0; i < t.length; i += 3) {
    // glass hides nothing
    if (shape.wears[shape.wear[i / 3]].alpha !== 'opaque') continue;
    fill(sc, t[i], t[i + 1], t[i + 2], cam.width, cam.height, true, i, front);
  }
  return front.depth;
}

const wrap = (x: number, n: number) => ((x % n) + n) % n;

/** Bilinear in one mip level, repeating; `out` gets RGBA, 0 to 1. */
function sample(tex: MipTexture, level: number, u: number, v: number, out: Float32Array): Float32Array {
  const p = tex.levels[Math.min(tex.levels.length - 1, level)];
  const x = u * p.width - 0.5;
  const y = v * p.height - 0.5;
  const fx = Math.floor(x);
  const fy = Math.floor(y);
  const tx = x - fx;
  const ty = y - fy;
  const x0 = wrap(fx, p.width);
  const x1 = x0 + 1 === p.width ? 0 : x0 + 1;
  const y0 = wrap(fy, p.height) * p.width;
  const y1 = wrap(fy + 1, p.height) * p.width;
  const a = (y0 + x0) * 4;
  const b = (y0 + x1) * 4;
  const c = (y1 + x0) * 4;
  const d = (y1 + x1) * 4;
  const wa = (1 - tx) * (1 - ty);
  const wb = tx * (1 - ty);
  const wc = (1 - tx) * ty;
  const wd = tx * ty;
  for (let k = 0; k < 4; k++) out[k] = (p.data[a + k] * wa + p.data[b + k] * wb + p.data[c + k] * wc + p.data[d + k] * wd) / 255;
  return out;
}

const TO_LINEAR = Float32Array.from({ length: 256 }, (_, i) => (i / 255 <= 0.04045 ? i / 255 / 12.92 : ((i / 255 + 0.055) / 1.055) ** 2.4));
const linear = (x: number) => TO_LINEAR[Math.min(255, Math.max(0, Math.round(x * 255)))];
/** sRGB (IEC 61966-2-1) of a linear number; steps fine enough for 8 bits everywhere. */
const TO_SRGB = Float32Array.from({ length: 16385 }, (_, i) =>
  i / 16384 <= 0.0031308 ? (12.92 * i) / 16384 : 1.055 * (i / 16384) ** (1 / 2.4) - 0.055,
);
const encode = (x: number) => TO_SRGB[x <= 0 ? 0 : x >= 1 ? 16384 : Math.round(x * 16384)];

interface Frame {
  shape: Shape;
  cam: Camera;
  textures: readonly (MipTexture | null)[];
  seen: Map<number, SeenTexture> | null;
}

const SCRATCH = /* @__PURE__ */ new Float32Array(4);
const OTHER = /* @__PURE__ */ new Float32Array(4);

/** Directions on the surface in which u and v grow, and the mip level one pixel spans, of a triangle on screen. */
interface Mapping {
  tangent: [number, number, number];
  bitangent: [number, number, number];
  /** UV area a pixel covers. */
  uvPerPixel: number;
}

/** Reused: one triangle is shaded at a time. */
const MAPPING: Mapping = { tangent: [1, 0, 0], bitangent: [0, 1, 0], uvPerPixel: 0 };

function mappingOf({ shape, cam }: Frame, a: number, b: number, c: number, sc: Screen): Mapping {
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
  return MAPPING;
}

/** A texture at the mip level a pixel spans; null where the material has none. */
function readTexture(
  f: Frame,
  at: number,
  uvPerPixel: number,
  s: number,
  t: number,
  weight: number,
  into: Float32Array,
): Float32Array | null {
  const tex = at >= 0 ? f.textures[at] : null;
  if (!tex) return null;
  const size = tex.levels[0].width * tex.levels[0].height;
  const level = Math.max(0, Math.round(0.5 * Math.log2(Math.max(1, uvPerPixel * size))));
  if (f.seen) {
    const had = f.seen.get(at) ?? { pixels: 0, levels: 0 };
    had.pixels += weight;
    had.levels += level * weight;
    f.seen.set(at, had);
  }
  return sample(tex, level, s, t, into);
}

/** Colour of a point that stands for `weight` samples: linear RGB and alpha into `out`. */
function shade(
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
  const base = readTexture(f, wear.baseTexture, map.uvPerPixel, s, t, weight, SCRATCH);
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
  const bump = readTexture(f, wear.normalTexture, map.uvPerPixel, s, t, weight, OTHER);
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
  const rm = readTexture(f, wear.roughMetalTexture, map.uvPerPixel, s, t, weight, SCRATCH);
  if (rm) {
    rough *= rm[1];
    metal *= rm[2];
  }
  if (wear.occlusionTexture >= 0) {
    const o = readTexture(f, wear.occlusionTexture, map.uvPerPixel, s, t, weight, SCRATCH);
    if (o) occlusion = 1 + wear.occlusion * (o[0] - 1);
  }
  // sky and ground, a light at the eye, one half way up
  const half = Math.max(0, (facing + lifted) * Math.SQRT1_2);
  const diffuse = (0.3 + 0.12 * lifted) * occlusion + 0.45 * facing + 0.25 * half;
  const power = 2 / Math.max(0.05, rough) ** 4 - 2;
  const strength = ((power + 8) / 25) * 0.12;
  const sharp = Math.min(power, 400);
  const gloss = Math.min(4, strength * (facing ** sharp + 0.5 * half ** sharp));
  const keep = 1 - 0.7 * metal;
  const spec = (x: number) => gloss * (0.04 * (1 - metal) + x * metal);
  let eR = wear.emissive[0];
  let eG = wear.emissive[1];
  let eB = wear.emissive[2];
  if (wear.emissiveTexture >= 0 && eR + eG + eB > 0) {
    const e = readTexture(f, wear.emissiveTexture, map.uvPerPixel, s, t, weight, SCRATCH);
    if (e) {
      eR *= linear(e[0]);
      eG *= linear(e[1]);
      eB *= linear(e[2]);
    }
  }
  out[0] = R * diffuse * keep + spec(R) + eR;
  out[1] = G * diffuse * keep + spec(G) + eG;
  out[2] = B * diffuse * keep + spec(B) + eB;
}

function flatNormal(p: Float32Array, a: number, b: number, c: number): [number, number, number] {
  const [ux, uy, uz] = [p[b * 3] - p[a * 3], p[b * 3 + 1] - p[a * 3 + 1], p[b * 3 + 2] - p[a * 3 + 2]];
  const [vx, vy, vz] = [p[c * 3] - p[a * 3], p[c * 3 + 1] - p[a * 3 + 1], p[c * 3 + 2] - p[a * 3 + 2]];
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
}

/** Samples a pixel side: edges come out grey, and a shift of a tenth of a pixel does not count as a whole one. */
const SUPER = 2;

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
  const front = frontOf(size);
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
  const color = new Float32Array(size * 3).fill(linear(BACKGROUND));
  const alpha = new Float32Array(size);
  const lit = new Float32Array(4);
  let last = -1;
  let map: Mapping | null = null;
  const block = new Int32Array(4);
  for (let y = 0; y < camera.height; y++)
    for (let x = 0; x < camera.width; x++) {
      const corner = y * SUPER * cam.width + x * SUPER;
      if ((owner[corner] & owner[corner + 1] & owner[corner + cam.width] & owner[corner + cam.width + 1]) === -1) continue;
      block[0] = corner;
      block[1] = corner + 1;
      block[2] = corner + cam.width;
      block[3] = corner + cam.width + 1;
      // what one triangle shows of a pixel is shaded once, in the middle of it
      for (let k = 0; k < block.length; k++) {
        const i = owner[block[k]];
        if (i < 0 || alpha[block[k]] > 0) continue;
        let v = 0;
        let w = 0;
        let n = 0;
        for (let m = k; m < block.length; m++)
          if (owner[block[m]] === i) {
            v += atV[block[m]];
            w += atW[block[m]];
            n++;
          }
        if (i !== last || !map) {
          map = mappingOf(f, t[i], t[i + 1], t[i + 2], sc);
          last = i;
        }
        shade(f, shape.wears[shape.wear[i / 3]], t[i], t[i + 1], t[i + 2], v / n, w / n, n, map, lit);
        for (let m = k; m < block.length; m++) {
          const px = block[m];
          if (owner[px] !== i) continue;
          color[px * 3] = lit[0];
          color[px * 3 + 1] = lit[1];
          color[px * 3 + 2] = lit[2];
          alpha[px] = 1;
        }
      }
    }
  const middle = (i: number) => sc.z[t[i]] + sc.z[t[i + 1]] + sc.z[t[i + 2]];
  for (const i of blended.sort((p, q) => middle(p) - middle(q) || p - q)) {
    const wear = shape.wears[shape.wear[i / 3]];
    const m = mappingOf(f, t[i], t[i + 1], t[i + 2], sc);
    scan(sc, t[i], t[i + 1], t[i + 2], cam.width, cam.height, wear.doubleSided, (px, z, v, w) => {
      if (z <= depth[px]) return;
      shade(f, wear, t[i], t[i + 1], t[i + 2], v, w, 1, m, lit);
      const o = Math.min(1, Math.max(0, lit[3]));
      for (let k = 0; k < 3; k++) color[px * 3 + k] += (lit[k] - color[px * 3 + k]) * o;
      alpha[px] += (1 - alpha[px]) * o;
    });
  }
  return shrink(camera.width, camera.height, color, alpha, f.seen ?? new Map());
}

function shrink(width: number, height: number, color: Float32Array, alpha: Float32Array, seen: Map<number, SeenTexture>): View {
  const out: View = {
    width,
    height,
    luma: new Float32Array(width * height),
    rgb: new Uint8Array(width * height * 3),
    cover: new Uint8Array(width * height),
    seen: new Map([...seen].map(([k, s]) => [k, { pixels: s.pixels / SUPER ** 2, levels: s.levels / SUPER ** 2 }])),
  };
  const grey = Math.round(BACKGROUND * 255);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const px = y * width + x;
      const p0 = y * SUPER * width * SUPER + x * SUPER;
      const p2 = p0 + width * SUPER;
      const covered = alpha[p0] + alpha[p0 + 1] + alpha[p2] + alpha[p2 + 1];
      if (covered === 0) {
        out.luma[px] = BACKGROUND;
        out.rgb.fill(grey, px * 3, px * 3 + 3);
        continue;
      }
      const red = encode(color[p0 * 3]) + encode(color[p0 * 3 + 3]) + encode(color[p2 * 3]) + encode(color[p2 * 3 + 3]);
      const green = encode(color[p0 * 3 + 1]) + encode(color[p0 * 3 + 4]) + encode(color[p2 * 3 + 1]) + encode(color[p2 * 3 + 4]);
      const blue = encode(color[p0 * 3 + 2]) + encode(color[p0 * 3 + 5]) + encode(color[p2 * 3 + 2]) + encode(color[p2 * 3 + 5]);
      const share = 1 / SUPER ** 2;
      out.rgb[px * 3] = Math.round(red * share * 255);
      out.rgb[px * 3 + 1] = Math.round(green * share * 255);
      out.rgb[px * 3 + 2] = Math.round(blue * share * 255);
      out.luma[px] = (0.299 * red + 0.587 * green + 0.114 * blue) * share;
      out.cover[px] = Math.round((covered * FULL) / SUPER ** 2);
    }
  return out;
}
