/** The wearer's form on stage: one set of vertices, bent once a pose, worn by the picture, the clay, the hatch and what occludes. */
import { BufferAttribute, BufferGeometry, type Material, Matrix4, Mesh } from 'three';
import { bendForm, type Form, growForm, regionIndices } from '@/core/form';
import type { DrawShape, StageForm } from '@/core/run';
import {
  createClayLook,
  createHatchMaterial,
  createMatteMaterial,
  createOccluderMaterial,
  createWearerLook,
  dressedColors,
} from './materials';

type FormShape = Extract<DrawShape, { type: 'form' }>;

const at = (position: BufferAttribute, normal: BufferAttribute, index: Uint32Array) => {
  const g = new BufferGeometry();
  g.setAttribute('position', position);
  g.setAttribute('normal', normal);
  g.setIndex(new BufferAttribute(index, 1));
  return g;
};

/** What stands in for the form until it is made: of its kind, so that the same programs serve both. */
function unmade(): BufferGeometry {
  const g = new BufferGeometry();
  for (const name of ['position', 'normal', 'color']) g.setAttribute(name, new BufferAttribute(new Float32Array(9), 3));
  return g;
}

export class FormView {
  readonly wearer = createWearerLook();
  readonly clayLook = createClayLook();
  readonly hatchLook = createHatchMaterial();
  readonly meshes: Record<'picture' | 'clay' | 'hatch' | 'matte', Mesh>;
  private source: Form | null = null;
  private position: BufferAttribute | null = null;
  private normal: BufferAttribute | null = null;
  private owned: BufferGeometry[] = [];
  /** The pose the vertices are in. */
  private bent: number[] | null = null;
  /** Counts what changed its vertices: another form, another pose. */
  version = 0;

  constructor() {
    const mesh = (m: Material | Material[]) => {
      const o = new Mesh(unmade(), m);
      o.matrixAutoUpdate = false;
      o.frustumCulled = false;
      o.visible = false;
      return o;
    };
    this.meshes = {
      picture: mesh([this.wearer.skin, this.wearer.eyes]),
      clay: mesh([this.clayLook.skin, this.clayLook.eyes]),
      hatch: mesh(this.hatchLook),
      matte: mesh(createMatteMaterial()),
    };
  }

  get form(): Form | null {
    return this.source;
  }

  set(form: Form): void {
    if (this.source === form) return;
    for (const g of this.owned) g.dispose();
    this.source = form;
    this.bent = null;
    this.version++;
    this.position = new BufferAttribute(form.positions.slice(), 3);
    this.normal = new BufferAttribute(form.normals.slice(), 3);
    const coloured = (colors: Float32Array) => {
      const g = at(this.position as BufferAttribute, this.normal as BufferAttribute, form.indices);
      g.setAttribute('color', new BufferAttribute(colors, 3));
      form.groups.forEach((part, i) => {
        g.addGroup(part.start, part.count, i);
      });
      return g;
    };
    const [clay, picture] = [coloured(form.colors), coloured(dressedColors(form))];
    // one material for the whole shape: groups would ask for one each
    const bare = at(this.position, this.normal, form.indices);
    this.owned = [clay, picture, bare];
    this.meshes.clay.geometry = clay;
    this.meshes.picture.geometry = picture;
    this.meshes.hatch.geometry = bare;
    this.meshes.matte.geometry = bare;
  }

  /** Bends and places the form; null: nobody is there. Vertices are touched only where the pose is another. */
  pose(state: StageForm | null): void {
    const there = state !== null && this.source !== null;
    for (const m of Object.values(this.meshes)) {
      m.visible = there;
      if (!state) continue;
      m.matrix.fromArray(state.head);
      m.updateMatrixWorld(true);
    }
    if (!state || !this.source || !this.position || !this.normal) return;
    const head = new Matrix4().fromArray(state.head);
    const relative = head
      .clone()
      .invert()
      .multiply(new Matrix4().fromArray(state.bust))
      .elements.map((x) => Math.fround(x));
    if (this.bent?.every((x, i) => Math.abs(x - relative[i]) < 1e-7)) return;
    this.bent = relative;
    this.version++;
    const bones = { head, neck: new Matrix4().fromArray(state.neck), bust: new Matrix4().fromArray(state.bust) };
    bendForm(this.source, bones, { positions: this.position.array as Float32Array, normals: this.normal.array as Float32Array });
    this.position.needsUpdate = true;
    this.normal.needsUpdate = true;
  }

  /** At rest, straight, in the head's frame. */
  rest(): void {
    const still = new Matrix4().toArray();
    this.pose({ size: 'M', head: still, neck: still, bust: still });
  }

  /** What one occluder hides with: follows the form's bend. */
  occluder(): FormOccluder {
    return new FormOccluder(this);
  }

  /** For an occluder: the vertices as they are bent now, and their version. */
  get vertices() {
    return this.source && this.position && this.normal
      ? { form: this.source, position: this.position, normal: this.normal, version: this.version }
      : null;
  }

  dispose(): void {
    for (const g of this.owned) g.dispose();
  }
}

/** A region of the form as depth alone. */
export class FormOccluder {
  readonly mesh: Mesh;
  private made = '';
  private version = -1;
  private of: BufferAttribute | null = null;

  constructor(private readonly view: FormView) {
    this.mesh = new Mesh(new BufferGeometry(), createOccluderMaterial());
    this.mesh.matrixAutoUpdate = false;
    this.mesh.frustumCulled = false;
  }

  update(shape: FormShape, matrix: readonly number[]): void {
    const v = this.view.vertices;
    if (!v) return;
    this.mesh.matrix.fromArray(matrix as number[]);
    this.mesh.updateMatrixWorld(true);
    const key = `${shape.region} ${shape.growMm} ${shape.widenMm}`;
    const grown = shape.growMm !== 0 || shape.widenMm !== 0;
    const anew = key !== this.made || this.of !== v.position;
    if (anew) {
      this.letGo();
      const position = grown ? new BufferAttribute(new Float32Array(v.position.array.length), 3) : v.position;
      this.mesh.geometry = at(position, v.normal, regionIndices(v.form, shape.region));
    }
    if (grown && (anew || v.version !== this.version)) {
      const position = this.mesh.geometry.getAttribute('position') as BufferAttribute;
      growForm(
        v.position.array as Float32Array,
        v.normal.array as Float32Array,
        shape.growMm,
        shape.widenMm,
        position.array as Float32Array,
      );
      position.needsUpdate = true;
    }
    this.made = key;
    this.of = v.position;
    this.version = v.version;
  }

  /** Disposing a geometry frees the buffers of its attributes, and the form's own are worn by others. */
  private letGo(): void {
    const shared = [this.view.vertices?.position, this.view.vertices?.normal, this.of];
    for (const name of ['position', 'normal'])
      if (shared.includes(this.mesh.geometry.getAttribute(name) as BufferAttribute)) this.mesh.geometry.deleteAttribute(name);
    this.mesh.geometry.dispose();
  }

  free(): void {
    this.letGo();
    (this.mesh.material as Material).dispose();
  }
}
