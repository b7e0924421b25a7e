/** What a live patch is drawn on: a grid over its region, flat, or seated on the part it hangs on along the view of the camera. */
import { type Matrix4, Vector3 } from 'three';
import { type Grid, type LaidOn, layOnto } from '../math/layonto';
import type { PatchPart } from '../parts/patch';
import { WINDOWS } from '../words/windows';

export const PATCH_GRID: Grid = { across: 24, up: 18 };
const ROW = PATCH_GRID.across + 1;
const COUNT = ROW * (PATCH_GRID.up + 1);

/** In the frame of the part, metres before its size. */
export interface PatchMesh {
  positions: Float32Array;
  triangles: Uint32Array;
  /** Share of the region that lies on what it is seated on; null: it is flat. */
  onPart: number | null;
}

/** Side and up of each place of the grid, −1 … 1 of the region. */
export const PATCH_SPREAD: Float32Array = /* @__PURE__ */ spread();
function spread(): Float32Array {
  const out = new Float32Array(COUNT * 2);
  for (let v = 0; v < COUNT; v++) out.set([((v % ROW) / PATCH_GRID.across) * 2 - 1, (Math.floor(v / ROW) / PATCH_GRID.up) * 2 - 1], v * 2);
  return out;
}
/** Whether a place is within the oval that is drawn. */
export const inOval = (v: number) => Math.hypot(PATCH_SPREAD[v * 2], PATCH_SPREAD[v * 2 + 1]) <= 1;

function trianglesBetween(whole: (three: readonly number[]) => boolean): Uint32Array {
  const out: number[] = [];
  for (let j = 0; j < PATCH_GRID.up; j++)
    for (let i = 0; i < PATCH_GRID.across; i++) {
      const a = j * ROW + i;
      for (const three of [
        [a, a + 1, a + ROW + 1],
        [a, a + ROW + 1, a + ROW],
      ])
        if (whole(three)) out.push(...three);
    }
  return Uint32Array.from(out);
}

function flatPositions(size: readonly [number, number]): Float32Array {
  const out = new Float32Array(COUNT * 3);
  for (let v = 0; v < COUNT; v++) out.set([(PATCH_SPREAD[v * 2] * size[0]) / 2, (PATCH_SPREAD[v * 2 + 1] * size[1]) / 2, 0], v * 3);
  return out;
}
const flats = new Map<PatchPart['region'], PatchMesh>();
export function flatPatch(region: PatchPart['region']): PatchMesh {
  const made = flats.get(region) ?? {
    positions: flatPositions(WINDOWS[region].sizeM),
    triangles: trianglesBetween(() => true),
    onPart: null,
  };
  flats.set(region, made);
  return made;
}

/** So far above what it lies on, as a share of the way to the eye: nothing of it is lost in the surface. */
const ABOVE = 0.0004;
/** From one place of the grid to the next it climbs by so many of its cells at most: beyond, a surface ends and another begins. */
const STEEP = 5;

/** Where ways from the eye through the flat patch meet shapes in its own frame, three numbers a place; NaN where none is met. */
export function seenThrough(region: PatchPart['region'], shapes: readonly LaidOn[], eye: Vector3): Float32Array {
  const { sizeM } = WINDOWS[region];
  const flat = flatPositions(sizeM);
  if (!(eye.z > 0)) return flat.fill(Number.NaN);
  const depths = layOnto(shapes, PATCH_GRID, sizeM, [eye.x, eye.y, eye.z]);
  for (let v = 0; v < COUNT; v++) {
    const share = (eye.z - depths[v]) / eye.z;
    for (let k = 0; k < 2; k++) flat[v * 3 + k] = eye.getComponent(k) + (flat[v * 3 + k] - eye.getComponent(k)) * share;
    flat[v * 3 + 2] = depths[v];
  }
  return flat;
}

/** Laid onto shapes in its own frame, as an eye sees them through it. Where nothing is, nothing of it is drawn. */
export function seatedPatch(region: PatchPart['region'], shapes: readonly LaidOn[], eye: Vector3): PatchMesh {
  const positions = seenThrough(region, shapes, eye);
  let [inside, met] = [0, 0];
  for (let v = 0; v < COUNT; v++) {
    const there = !Number.isNaN(positions[v * 3 + 2]);
    if (inOval(v)) {
      inside++;
      if (there) met++;
    }
    for (let k = 0; k < 3; k++)
      positions[v * 3 + k] = there ? positions[v * 3 + k] + (eye.getComponent(k) - positions[v * 3 + k]) * ABOVE : 0;
    if (!there) positions[v * 3 + 2] = Number.NaN;
  }
  const cell = WINDOWS[region].sizeM[0] / PATCH_GRID.across;
  const triangles = trianglesBetween((three) => {
    const z = three.map((v) => positions[v * 3 + 2]);
    return Math.max(...z) - Math.min(...z) < STEEP * cell;
  });
  for (let i = 2; i < positions.length; i += 3) if (Number.isNaN(positions[i])) positions[i] = 0;
  return { positions, triangles, onPart: inside > 0 ? met / inside : 0 };
}

/** Shapes of a part in the frame of another that hangs on it. @param inOther from the first's frame to the second's */
export function shapesIn(shapes: readonly LaidOn[], inOther: Matrix4): LaidOn[] {
  const v = new Vector3();
  return shapes.map(({ positions, triangles }) => {
    const own = new Float32Array(positions.length);
    for (let i = 0; i < own.length; i += 3)
      v.fromArray(positions as number[], i)
        .applyMatrix4(inOther)
        .toArray(own, i);
    return { positions: own, triangles };
  });
}
