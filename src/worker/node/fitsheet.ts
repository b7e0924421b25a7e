/** The fit sheet as a file, where no browser draws: pictures by a small rasteriser, the part in tints of how near it lies. */
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Matrix4, Vector3 } from 'three';
import { bentForm } from '@/core/fit/bent';
import type { ClearanceCell, Measured } from '@/core/fit/cells';
import { PICTURE_SHAPE, type SheetAsked, sheetPdf, sheetSvg } from '@/core/fit/sheet';
import { TINT_RGB, tintOf } from '@/core/fit/tints';
import type { Form } from '@/core/form';
import { type Camera, type Front, fill, project } from '@/core/prepare/measure/raster';
import { SHEET_FONTS } from '../baked';

/** Upright, metres: head, shoulders and what is round them; and pixels of it. */
const HIGH_M = 0.44;
const HIGH_PX = 300;
const WIDE_PX = Math.round(HIGH_PX / PICTURE_SHAPE);
const SKIN = [214, 190, 168];
const EMPTY = [238, 242, 242];
const LIGHT = new Vector3(-0.5, 0.6, 0.75).normalize();

/** PNG dots a millimetre: 200 dpi. */
const DOTS = 200 / 25.4;

/** What of a cell is drawn: who wears it, and the part, in the head's frame. */
export interface DrawnCell {
  form: Form;
  cell: Pick<ClearanceCell, 'shapes' | 'frames'>;
  distances: Measured['distances'];
}

const CAMERA: Camera = {
  right: new Vector3(1, 0, 0),
  up: new Vector3(0, 1, 0),
  back: new Vector3(0, 0, 1),
  centre: new Vector3(0, -0.02, 0),
  scale: HIGH_PX / HIGH_M,
  width: WIDE_PX,
  height: HIGH_PX,
};

/** RGB of a cell, seen from before. */
function drawCell({ form, cell, distances }: DrawnCell): Buffer {
  const head = new Matrix4().fromArray(cell.frames.head as number[]);
  const v = new Vector3();
  const inWorld = (of: ArrayLike<number>) => {
    const out = new Float32Array(of.length);
    for (let i = 0; i < out.length; i += 3)
      v.fromArray(of as number[], i)
        .applyMatrix4(head)
        .toArray(out, i);
    return out;
  };
  const things = [
    { positions: inWorld(bentForm(form, cell.frames).positions), triangles: form.indices as ArrayLike<number>, tint: (_: number) => SKIN },
    ...cell.shapes.map(({ positions, triangles }, s) => ({
      positions: inWorld(positions),
      triangles,
      tint: (vertex: number) => TINT_RGB[tintOf(distances[s][vertex] * 1000)],
    })),
  ];
  const size = WIDE_PX * HIGH_PX;
  const out = Buffer.alloc(size * 3);
  for (let p = 0; p < size; p++) out.set(EMPTY, p * 3);
  const depth = new Float32Array(size).fill(Number.NEGATIVE_INFINITY);
  const [a, b, n] = [new Vector3(), new Vector3(), new Vector3()];
  for (const { positions, triangles, tint } of things) {
    const screen = project({ positions }, CAMERA);
    const front: Front = {
      depth: depth.slice(),
      owner: new Int32Array(size).fill(-1),
      v: new Float32Array(size),
      w: new Float32Array(size),
    };
    for (let t = 0; t < triangles.length; t += 3)
      fill(screen, triangles[t], triangles[t + 1], triangles[t + 2], WIDE_PX, HIGH_PX, true, t, front);
    for (let p = 0; p < size; p++) {
      const t = front.owner[p];
      if (t < 0) continue;
      depth[p] = front.depth[p];
      v.fromArray(positions, triangles[t] * 3);
      a.fromArray(positions, triangles[t + 1] * 3).sub(v);
      b.fromArray(positions, triangles[t + 2] * 3).sub(v);
      const shade = 0.5 + 0.5 * Math.abs(n.crossVectors(a, b).normalize().dot(LIGHT));
      const rgb = tint(triangles[t]);
      for (let k = 0; k < 3; k++) out[p * 3 + k] = rgb[k] * shade;
    }
  }
  return out;
}

/** Beside the built code, as the build put them there. */
async function fonts() {
  const read = async (name: string) =>
    new Uint8Array(await readFile(join(typeof __dirname === 'string' ? __dirname : '', '../../public/baked', name)));
  return { plain: await read(SHEET_FONTS.plain), strong: await read(SHEET_FONTS.strong) };
}

/** @param path ends with .pdf or .png @param cells by row and column; null: nothing is there */
export async function writeFitSheet(path: string, asked: SheetAsked, cells: readonly (readonly (DrawnCell | null)[])[]): Promise<void> {
  const { default: sharp } = await import('sharp');
  const pictures = await Promise.all(
    cells.map((row) =>
      Promise.all(
        row.map(async (c) => {
          if (!c) return null;
          const raw = { width: WIDE_PX, height: HIGH_PX, channels: 3 as const };
          return new Uint8Array(await sharp(drawCell(c), { raw }).png().toBuffer());
        }),
      ),
    ),
  );
  const pictureOf = (row: number, column: number) => pictures[row]?.[column] ?? null;
  if (path.endsWith('.pdf')) {
    await writeFile(path, await sheetPdf(asked, pictureOf, await fonts()));
    return;
  }
  const { svg, widthMm } = sheetSvg(asked, pictureOf, await fonts());
  await writeFile(
    path,
    await sharp(Buffer.from(svg), { unlimited: true })
      .resize(Math.round(widthMm * DOTS))
      .png()
      .toBuffer(),
  );
}
