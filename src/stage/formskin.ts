/** One set of vertices of a form or a body, bent once a pose and worn by everything that draws it: by all its triangles, or by few. */
import { BufferAttribute, BufferGeometry, Matrix4 } from 'three';
import { outsideAreas } from '@/core/fit/wornareas';
import {
  ACTION_UNITS,
  bendForm,
  type Coarse,
  expressForm,
  type FaceWeights,
  type Form,
  type FormRegion,
  isAtRest,
  namedIndices,
  regionIndices,
} from '@/core/form';
import { BARE, barest, bendBody, carryInHead, type DrawnBody, wearingFace } from '@/core/form/body';
import type { StageForm } from '@/core/run';
import type { BodyArea } from '@/core/words/humanoid';
import { dressedColors } from './materials';

export const geometryOf = (position: BufferAttribute, normal: BufferAttribute, index: Uint32Array | BufferAttribute) => {
  const g = new BufferGeometry();
  g.setAttribute('position', position);
  g.setAttribute('normal', normal);
  g.setIndex(index instanceof BufferAttribute ? index : new BufferAttribute(index, 1));
  return g;
};

/** What a look on top of another is of. */
export type MatteRegion = 'face' | 'hair' | 'hands';

/** What all the triangles of a skin, or few of them, are worn as. */
export class Cut {
  readonly picture: BufferGeometry;
  readonly clay: BufferGeometry;
  /** One material for the whole shape: groups would ask for one each. */
  readonly bare: BufferGeometry;
  private readonly regions = new Map<MatteRegion, BufferGeometry>();

  constructor(
    private readonly shape: Form | DrawnBody,
    private readonly worn: Record<'position' | 'normal' | 'clay' | 'picture', BufferAttribute>,
  ) {
    const index = new BufferAttribute(shape.indices, 1);
    this.bare = geometryOf(worn.position, worn.normal, index);
    const coloured = (colors: BufferAttribute) => {
      const g = geometryOf(worn.position, worn.normal, index);
      g.setAttribute('color', colors);
      for (const part of shape.groups) g.addGroup(part.start, part.count, part.name === 'eyes' ? 1 : 0);
      return g;
    };
    this.clay = coloured(worn.clay);
    this.picture = coloured(worn.picture);
  }

  /** Triangles of a region, of a body without some areas. */
  regionIndices(region: FormRegion, without: readonly BodyArea[]): Uint32Array {
    const all = regionIndices(this.shape, region);
    return 'skinIndices' in this.shape ? outsideAreas(all, this.shape, without) : all;
  }

  region(name: MatteRegion): BufferGeometry {
    let made = this.regions.get(name);
    if (!made) {
      const index = name === 'hands' ? namedIndices(this.shape, 'hand') : regionIndices(this.shape, name);
      made = geometryOf(this.worn.position, this.worn.normal, index);
      this.regions.set(name, made);
    }
    return made;
  }

  dispose(): void {
    for (const g of [this.clay, this.picture, this.bare, ...this.regions.values()]) g.dispose();
  }
}

export class FormSkin {
  readonly position: BufferAttribute;
  readonly normal: BufferAttribute;
  private readonly colors: Record<'clay' | 'picture', BufferAttribute>;
  private readonly whole: Cut;
  private few: Cut | null = null;
  /** The pose the vertices are in. */
  private bent: ArrayLike<number> | null = null;

  constructor(
    readonly shape: Form | DrawnBody,
    /** What a pose is told by, and the vertices in it: in the frame of the head. */
    private readonly poses: { key(state: StageForm): ArrayLike<number>; bend(state: StageForm): void },
    out: { positions: Float32Array; normals: Float32Array },
  ) {
    this.position = new BufferAttribute(out.positions, 3);
    this.normal = new BufferAttribute(out.normals, 3);
    this.colors = { clay: new BufferAttribute(shape.colors, 3), picture: new BufferAttribute(dressedColors(shape), 3) };
    this.whole = this.cutOf(shape);
  }

  private cutOf(shape: Form | DrawnBody): Cut {
    return new Cut(shape, { position: this.position, normal: this.normal, ...this.colors });
  }

  /** @param coarse the few triangles of any form, of which there is one set; null: all */
  cut(coarse: Coarse | null): Cut {
    if (!coarse || !('face' in this.shape)) return this.whole;
    this.few ??= this.cutOf({ ...this.shape, ...coarse });
    return this.few;
  }

  /** @returns whether its vertices moved */
  pose(state: StageForm): boolean {
    const key = this.poses.key(state);
    const { bent } = this;
    if (bent && Array.prototype.every.call(key, (x: number, i: number) => Math.abs(x - bent[i]) < 1e-7)) return false;
    this.bent = key;
    this.poses.bend(state);
    this.position.needsUpdate = true;
    this.normal.needsUpdate = true;
    return true;
  }

  /** How much of a body hides at each vertex, as the fourth number of a colour; null: all of it. */
  mask(bare: readonly string[]): BufferAttribute | null {
    const levels = 'skinIndices' in this.shape ? barest(bare, this.position.count) : null;
    if (!levels) return null;
    const rgba = new Uint8Array(levels.length * 4);
    levels.forEach((level, v) => {
      rgba[v * 4 + 3] = 255 - Math.round((level / BARE) * 255);
    });
    return new BufferAttribute(rgba, 4, true);
  }

  dispose(): void {
    this.whole.dispose();
    this.few?.dispose();
  }
}

const buffers = (shape: Form | DrawnBody) => ({ positions: shape.positions.slice(), normals: shape.normals.slice() });

/** The form with what its face does: the vertices are worked out anew where that is another. */
function faceOn(form: Form): (face: FaceWeights) => { positions: Float32Array; normals: Float32Array } {
  const out = buffers(form);
  let now = '';
  return (face) => {
    if (isAtRest(face)) return form;
    const said = JSON.stringify(face);
    if (said !== now) expressForm(form, face, out);
    now = said;
    return out;
  };
}
const faceKey = (face: FaceWeights) => ACTION_UNITS.map((unit) => face[unit] ?? 0);

/** Head and bust: bent between the two. */
export function headSkin(form: Form): FormSkin {
  const out = buffers(form);
  const face = faceOn(form);
  const key = (state: StageForm) => [
    ...new Matrix4()
      .fromArray(state.head)
      .invert()
      .multiply(new Matrix4().fromArray(state.bust))
      .elements.map((x) => Math.fround(x)),
    ...faceKey(state.face),
  ];
  const bend = (state: StageForm) => {
    const [head, neck, bust] = [state.head, state.neck, state.bust].map((m) => new Matrix4().fromArray(m));
    bendForm(form, { head, neck, bust }, out, face(state.face));
  };
  return new FormSkin(form, { key, bend }, out);
}

/** The whole body: bent at its joints. @param form its head */
export function bodySkin(body: DrawnBody, form: Form): FormSkin {
  const out = buffers(body);
  const faced = buffers(body);
  const face = faceOn(form);
  const key = (state: StageForm) => [...carryInHead(state.body ?? [], state.head), ...faceKey(state.face)];
  const bend = (state: StageForm) =>
    bendBody(wearingFace(body, form, face(state.face), faced), carryInHead(state.body ?? [], state.head), out);
  return new FormSkin(body, { key, bend }, out);
}
