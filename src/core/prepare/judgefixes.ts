/** What fixes do to the picture, looked at before they are offered: what changes it is offered singly, never among "all". */
import { type Document, Logger } from '@gltf-transform/core';
import { cloneDocument } from '@gltf-transform/functions';
import type { Finding } from '../intake';
import type { Pixels } from '../math/pixels';
import type { StepDraft } from '../piece/recipe';
import { readShape, type Shape, shapeBox } from './measure/shape';
import { greyStats, ssim } from './measure/ssim';
import type { MipTexture } from './measure/texture';
import { drawView, type View } from './measure/view';
import { ringOf } from './measure/views';
import { type RecipeTools, runStep } from './recipe';
import { REFERENCE_M, VIEW_RING } from './viewing';

/** From this similarity of the worst view on nobody sees a difference (ours; E counts a loss of 0.02 as 1). */
export const SAME_PICTURE = 0.995;
/** What all fixes together may lose here: mending brings up others, which are looked at against what was mended. */
const TOGETHER = 0.9975;
/** Triangles of a model that is looked at: more take longer than they are worth on the way into Stock. */
const MOST_TRIANGLES = 400_000;

/** Faults that are seen themselves: mending them changes the picture, and is meant to. */
export const SEEN_FAULTS: ReadonlySet<string> = new Set([
  'geometry/not-finite',
  'geometry/flipped',
  'geometry/normals-missing',
  'geometry/normals-zero',
  'geometry/normals-opposed',
  'geometry/tangents',
  'material/blend-opaque',
  'texture/role',
  'rig/weights',
  'rig/influences',
]);
/** Mends that touch nothing that is drawn: what has no area is not. */
const UNSEEN: ReadonlySet<string> = new Set([
  'geometry/degenerate',
  'geometry/unused-vertices',
  'geometry/unwelded',
  'texture/duplicates',
  'rig/unused-bones',
  'rig/skin-not-root',
  'clip/constant-tracks',
]);

/** Closed, it looks the same to the last pixel but for rounding. */
const PLUGGED = 0.9999;
/** Holes that something else fills, or that are too small for a view: no light shows through them. */
const plugged = (f: Finding): Finding => ({
  ...f,
  level: 'note',
  message: f.message.replace(' Light shows through.', ' None of it is seen from outside.'),
});

const toJudge = (f: Finding): boolean =>
  (f.fix?.step === 'mend' || f.fix?.step === 'texture') && !SEEN_FAULTS.has(f.code) && !UNSEEN.has(f.code);

/** The least similarity of the ring of views, and in which. */
function worstView(
  before: readonly (View & { stats: ReturnType<typeof greyStats> })[],
  shape: Shape,
  textures: readonly (MipTexture | null)[],
  cameras: ReturnType<typeof ringOf>,
) {
  let [least, view, pair]: [number, string, readonly View[]] = [1, '', []];
  before.forEach((a, i) => {
    const b = drawView(shape, textures, cameras[i]);
    // most mends change nothing in most views
    if (a.luma.every((x, p) => x === b.luma[p]) && a.cover.every((x, p) => x === b.cover[p])) return;
    const mask = a.cover.map((x, p) => (x || b.cover[p] ? 1 : 0));
    const s = ssim(a.stats, greyStats(b.luma, b.width, b.height), a.width, a.height, mask);
    if (s < least) [least, view, pair] = [s, VIEW_RING[i].name, [a, b]];
  });
  return { ssim: least, view, pair };
}

/** Two views of one size beside one another, in greys. */
function beside([a, b]: readonly View[]): Pixels {
  const [width, height] = [a.width * 2, a.height];
  const data = new Uint8Array(width * height * 4).fill(255);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const from = x < a.width ? a.luma[y * a.width + x] : b.luma[y * a.width + x - a.width];
      data.fill(Math.round(Math.min(1, Math.max(0, from)) * 255), (y * width + x) * 4, (y * width + x) * 4 + 3);
    }
  return { width, height, data };
}

/**
 * Findings with what their fixes change in the picture, where they do. Each is tried on a copy on which those before it were run.
 * @param decode textures of a document, by their number
 * @param tools `address`: a picture as a data address of at most 40 000 letters; null where it would be longer
 */
export async function judgeFixes(
  document: Document,
  findings: readonly Finding[],
  decode: (document: Document) => Promise<(MipTexture | null)[]>,
  tools: RecipeTools & { address: (pixels: Pixels) => Promise<string | null> },
): Promise<Finding[]> {
  if (!findings.some(toJudge)) return [...findings];
  const shape = readShape(document);
  if (shape.triangles.length === 0 || shape.triangles.length / 3 > MOST_TRIANGLES) return [...findings];
  const cameras = ringOf(shapeBox(shape), REFERENCE_M);
  const textures = await decode(document);
  const before = cameras.map((c) => {
    const view = drawView(shape, textures, c);
    return { ...view, stats: greyStats(view.luma, view.width, view.height) };
  });
  const out: Finding[] = [];
  // with those before it that are not seen: several small changes add up
  let mended = document;
  for (const f of findings) {
    if (!toJudge(f) || !f.fix) {
      out.push(f);
      continue;
    }
    const copy = cloneDocument(mended).setLogger(new Logger(Logger.Verbosity.SILENT));
    const ran = await runStep(copy, f.fix as StepDraft, tools).then(
      () => true,
      () => false,
    );
    // what cannot be run is told where it is pressed
    if (!ran) {
      out.push(f);
      continue;
    }
    const after = f.fix.step === 'texture' ? await decode(copy) : textures;
    const { ssim: least, view, pair } = worstView(before, readShape(copy), after, cameras);
    if (least >= TOGETHER) {
      mended = copy;
      out.push(f.code === 'geometry/open-edges' && least >= PLUGGED ? plugged(f) : f);
    } else {
      const picture = await tools.address(beside(pair)).catch(() => null);
      out.push({ ...f, fix: { ...f.fix, shows: { ssim: Math.round(least * 1e4) / 1e4, view, picture } } });
    }
  }
  return out;
}
