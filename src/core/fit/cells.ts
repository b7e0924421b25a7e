/** Clearance and leaks over a cast and its poses: one search tree a wearer, and what did not move is not asked again. */
import { Vector3 } from 'three';
import type { DrawnBody } from '../form/body/body';
import type { FacePlace } from '../form/facepoint';
import type { Form } from '../form/form';
import { nearestLandmark } from '../form/near';
import { type FormRegion, growForm, regionIndices } from '../form/regions';
import { type Box, boxOf, emptyBox, growBox } from '../math/box';
import type { BodyArea } from '../words/humanoid';
import type { LandmarkName } from '../words/landmarks';
import { type Bent, bentBody, bentForm, type WearerFrames } from './bent';
import type { Blocks } from './blocks';
import { type Asked, askedOf, askingOf, type Clearance, type ClearanceShape, clearanceOf, distancesOf, type Told } from './clearance';
import { type Dropped, dropAlong } from './drop';
import { REACH_M, SurfaceField } from './field';
import { Blocker, blockerOf, type Leaks, leaksOf, placesOn } from './leaks';
import { hidingOf } from './wornareas';

/** One wearer in one moment, and the part as it lies on them, in the head's frame. */
export interface ClearanceCell {
  shapes: readonly ClearanceShape[];
  frames: WearerFrames;
  /** From where it is seen, and what it is hidden with; null: how it leaks is not asked. */
  sight: { eyeM: readonly [number, number, number]; hides: readonly Hiding[] } | null;
}
/** What an occluder hides with: some of the wearer, or a shape of its own, in the head's frame. */
export type Hiding = FormHiding | { part?: string; shapes: readonly ClearanceShape[] };
interface FormHiding {
  /** The part that it is. */
  part?: string;
  region: FormRegion;
  growMm: number;
  widenMm: number;
  /** Areas of a body, and masks of it, that hide nothing. */
  without: readonly BodyArea[];
  bare: readonly string[];
}
export interface Wearer {
  form: Form;
  /** null: head and bust alone. */
  body: DrawnBody | null;
}
export interface Measured {
  clearance: Clearance;
  /** The landmark of the head that the deepest place is next to; null: it is not by the head. */
  near: LandmarkName | null;
  /** null: it was not asked. */
  leaks: Leaks | null;
  /** Of every vertex of each shape, metres; more than `BEYOND_M` above the skin, at least as far as told. */
  distances: Float32Array[];
}

/** Less than this is no move: metres. */
const STILL_M = 1e-6;
const MOST_LIKELY = 4;
/** Shapes that hide, of which the search trees are kept. */
const MOST_OWN = 8;

interface First {
  shapes: readonly ClearanceShape[];
  asked: Asked;
  told: { corners: Told[]; between: Told };
  bent: Float32Array;
}

/** What is known of one wearer from cell to cell. */
class WearerField {
  private readonly field: SurfaceField;
  private first: First | null = null;
  /** Where a part was deepest before: it may well be so again. */
  private readonly likely: [number, number, number][] = [];

  constructor(
    private readonly wearer: Wearer,
    private readonly whole: boolean,
  ) {
    const shape = (whole && wearer.body) || wearer.form;
    // eyeballs lie behind lids that are open to the back: what is before them is told by the lids
    const end = shape.groups.find((g) => g.name === 'eyes')?.start ?? shape.indices.length;
    this.field = new SurfaceField(shape.positions.slice(), shape.indices.slice(0, end));
  }

  private bend(frames: WearerFrames): Bent {
    return this.whole && this.wearer.body ? bentBody(this.wearer.body, frames, this.wearer.form) : bentForm(this.wearer.form, frames);
  }

  drop({ shapes, frames }: ClearanceCell, along: readonly [number, number, number], gapM: number): Dropped | null {
    this.field.move(this.bend(frames).positions);
    return dropAlong(shapes, this.field, along, gapM);
  }

  measure({ shapes, frames, sight }: ClearanceCell): Measured | null {
    const all = this.bend(frames);
    const bent = all.positions;
    this.field.move(bent);
    const known = this.first && same(this.first.shapes, shapes) ? this.first : null;
    const moved = known && movedBox(known.bent, bent);
    const asked = known?.asked ?? askedOf(shapes);
    const asking = askingOf(asked, this.field, known ? this.likely : []);
    const ask = (places: Float32Array, before: Told | undefined) =>
      distancesOf(places, this.field, asking, before && moved ? { told: before, moved } : undefined);
    const told = {
      corners: asked.corners.map((p, i) => ask(p, known?.told.corners[i])),
      between: ask(asked.between, known?.told.between),
    };
    if (!known) this.first = { shapes, asked, told, bent };
    const distances = { corners: told.corners.map((t) => t.distances), between: told.between.distances };
    const clearance = clearanceOf(asked, distances);
    if (clearance && this.likely.push(clearance.atM) > MOST_LIKELY) this.likely.shift();
    const leaks = sight && this.leaks(shapes, all, sight);
    return clearance && { clearance, near: nearestLandmark(this.wearer.form, clearance.atM), leaks, distances: distances.corners };
  }

  /** How a part leaks, and nothing else. */
  leaksOnly({ shapes, frames, sight }: ClearanceCell): Leaks | null {
    if (!sight) return null;
    const bent = this.bend(frames);
    this.field.move(bent.positions);
    return this.leaks(shapes, bent, sight);
  }

  private part: { shapes: readonly ClearanceShape[]; on: ReturnType<typeof placesOn> } | null = null;
  private readonly blockers = new Map<string, Blocker>();

  private blocker(key: string, positions: Float32Array, indices: () => Uint32Array): Blocker {
    const known = this.blockers.get(key);
    known?.move(positions);
    const blocker = known ?? new Blocker(positions.slice(), indices());
    this.blockers.set(key, blocker);
    return blocker;
  }

  private own: { shapes: readonly ClearanceShape[]; blocker: Blocker }[] = [];
  /** Of what hides with a shape of its own: the same while that is. */
  private ownBlocker(shapes: readonly ClearanceShape[]): Blocker[] {
    if (shapes.every((s) => s.triangles.length === 0)) return [];
    const known = this.own.find((o) => same(o.shapes, shapes));
    if (known) return [known.blocker];
    const blocker = blockerOf(shapes);
    this.own = [{ shapes, blocker }, ...this.own].slice(0, MOST_OWN);
    return [blocker];
  }

  private leaks(shapes: readonly ClearanceShape[], bent: Bent, { eyeM, hides }: NonNullable<ClearanceCell['sight']>): Leaks | null {
    if (!this.part || !same(this.part.shapes, shapes)) this.part = { shapes, on: placesOn(shapes) };
    if (!this.part.on) return null;
    const body = this.whole ? this.wearer.body : null;
    const shape = body ?? this.wearer.form;
    const grown = new Float32Array(bent.positions.length);
    const hiding = hides.flatMap((h): Blocks[] => {
      if ('shapes' in h) return this.ownBlocker(h.shapes);
      const { region, growMm, widenMm, without, bare } = h;
      // all of them as they are: the wearer once more
      if (growMm === 0 && widenMm === 0 && regionIndices(shape, region) === shape.indices && without.length + bare.length === 0)
        return [this.field];
      growForm(bent.positions, bent.normals, growMm, widenMm, grown);
      const key = JSON.stringify([region, growMm, widenMm, without, bare]);
      const blocker = this.blocker(key, grown, () => {
        const all = regionIndices(shape, region);
        return body ? hidingOf({ ...body, indices: all }, without, bare) : all;
      });
      return [blocker];
    });
    return leaksOf(this.part.on, this.field, hiding, new Vector3(...eyeM));
  }
}

const same = (a: readonly ClearanceShape[], b: readonly ClearanceShape[]) =>
  a.length === b.length &&
  a.every((s, i) => {
    const { positions: q } = b[i];
    return s.positions.length === q.length && s.positions.every((x, k) => Math.abs(x - q[k]) < STILL_M);
  });

/** Around all that is elsewhere, before and after; empty where nothing is. */
function movedBox(a: Float32Array, b: Float32Array): Box {
  const moved: number[] = [];
  for (let i = 0; i < a.length; i += 3)
    if (Math.abs(a[i] - b[i]) + Math.abs(a[i + 1] - b[i + 1]) + Math.abs(a[i + 2] - b[i + 2]) > STILL_M)
      moved.push(a[i], a[i + 1], a[i + 2], b[i], b[i + 1], b[i + 2]);
  if (moved.length === 0) return emptyBox();
  const box = boxOf(moved);
  // a triangle of which one corner moved reaches as far as its others
  return growBox(box, [box[0] - EDGE_M, box[1] - EDGE_M, box[2] - EDGE_M, box[3] + EDGE_M, box[4] + EDGE_M, box[5] + EDGE_M]);
}
/** No edge of a form is longer, metres. */
const EDGE_M = 0.08;

/** Measures cells of wearers one after another. */
export class CastMeasure {
  private readonly fields = new Map<string, WearerField>();

  /** @param key of the wearer: the same one is made ready once */
  measure(key: string, wearer: Wearer, cell: ClearanceCell): Measured | null {
    return this.fieldOf(key, wearer, cell).measure(cell);
  }

  /** How a part leaks there, and nothing else; null: it was not asked, or has no surface. */
  leaks(key: string, wearer: Wearer, cell: ClearanceCell): Leaks | null {
    return this.fieldOf(key, wearer, cell).leaksOnly(cell);
  }

  /** As `dropAlong`, in the head's frame. */
  drop(key: string, wearer: Wearer, cell: ClearanceCell, along: readonly [number, number, number], gapM: number): Dropped | null {
    return this.fieldOf(key, wearer, cell).drop(cell, along, gapM);
  }

  private fieldOf(key: string, wearer: Wearer, cell: ClearanceCell): WearerField {
    const whole = cell.frames.body !== null && wearer.body !== null;
    const id = `${key} ${whole}`;
    let field = this.fields.get(id);
    if (!field) {
      field = new WearerField(wearer, whole);
      this.fields.set(id, field);
    }
    return field;
  }
}

/** The place of a wearer's skin that a part comes nearest to, and that place of the part, metres in the head's frame; null: nothing is near. */
export function skinUnder(
  { form }: Wearer,
  { shapes, frames }: Pick<ClearanceCell, 'shapes' | 'frames'>,
): { skin: FacePlace; atM: [number, number, number]; apartM: number } | null {
  const end = form.groups.find((g) => g.name === 'eyes')?.start ?? form.indices.length;
  const field = new SurfaceField(bentForm(form, frames).positions.slice(), form.indices.slice(0, end));
  let least = Number.POSITIVE_INFINITY;
  let at: [number, number, number] | null = null;
  for (const { positions } of shapes)
    for (let i = 0; i < positions.length; i += 3) {
      const d = Math.abs(field.distance(positions[i], positions[i + 1], positions[i + 2], Math.min(REACH_M, least)));
      if (d < least) [least, at] = [d, [positions[i], positions[i + 1], positions[i + 2]]];
    }
  const near = at && least < REACH_M ? field.nearest(...at) : null;
  return at && near && { skin: { triangle: near.triangle, bary: near.bary }, atM: at, apartM: near.apartM };
}
