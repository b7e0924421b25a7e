/** The wearer's form on stage: head and bust, or the whole body, worn by the picture, the clay, the hatch and what occludes. */
import { BufferAttribute, BufferGeometry, type Material, Matrix4, Mesh, MeshBasicMaterial, Scene } from 'three';
import { type Coarse, type Form, growForm, windowPlaces } from '@/core/form';
import type { DrawnBody } from '@/core/form/body';
import type { Grid } from '@/core/math';
import type { MatteName } from '@/core/piece';
import type { DrawShape, StageForm } from '@/core/run';
import type { PatchRegion } from '@/core/words/windows';
import { bodySkin, type Cut, type FormSkin, geometryOf, headSkin } from './formskin';
import {
  createClayLook,
  createHatchMaterial,
  createMaskedOccluderMaterial,
  createMatteMaterial,
  createOccluderMaterial,
  createWearerLook,
} from './materials';

type FormShape = Extract<DrawShape, { type: 'form' }>;

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
  readonly meshes: Record<'picture' | 'clay' | 'hatch' | 'matte' | 'before' | 'region', Mesh>;
  private head: FormSkin | null = null;
  private body: FormSkin | null = null;
  /** What is shown of the two. */
  private shown: FormSkin | null = null;
  /** Few triangles that look like all of them in a small picture; null: not at hand. */
  private coarse: Coarse | null = null;
  private coarsely = false;
  private readonly whole = new Scene();
  private readonly some = new Scene();
  /** Whoever stands before the sky, black. */
  private readonly sky = new Scene();
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
      before: mesh(new MeshBasicMaterial({ color: 0x000000, toneMapped: false })),
      region: mesh(createMatteMaterial()),
    };
    this.whole.add(this.meshes.matte);
    // what of the wearer stands before a hand is no hand
    this.some.add(this.meshes.before, this.meshes.region);
  }

  get form(): Form | null {
    return (this.head?.shape as Form | undefined) ?? null;
  }

  set(form: Form): void {
    if (this.head?.shape === form) return;
    const before = this.head;
    this.head = headSkin(form);
    this.let(before);
    // a body's face is that of its head
    if (this.body) this.setBody(null);
  }

  /** The body of the size shown; null: head and bust alone. */
  setBody(body: DrawnBody | null): void {
    if ((this.body?.shape ?? null) === body) return;
    const before = this.body;
    const form = this.form;
    this.body = body && form && bodySkin(body, form);
    this.let(before);
  }

  private let(skin: FormSkin | null): void {
    this.version++;
    if (skin && this.shown === skin) this.wear(null);
    skin?.dispose();
    if (!this.shown && this.head) this.wear(this.head);
  }

  private wear(skin: FormSkin | null): void {
    if (this.shown === skin) return;
    this.shown = skin;
    this.put();
  }

  private cut(): Cut | null {
    return this.shown?.cut(this.coarsely ? this.coarse : null) ?? null;
  }

  private put(): void {
    this.version++;
    const cut = this.cut();
    if (!cut) return;
    this.meshes.clay.geometry = cut.clay;
    this.meshes.picture.geometry = cut.picture;
    for (const name of ['hatch', 'matte', 'before'] as const) this.meshes[name].geometry = cut.bare;
  }

  setCoarse(coarse: Coarse): void {
    this.coarse = coarse;
    if (this.coarsely) this.put();
  }

  /** With few triangles from now on, or with all. */
  detail(coarsely: boolean): void {
    if (coarsely === this.coarsely) return;
    this.coarsely = coarsely;
    if (this.coarse) this.put();
  }

  /** Bends and places the form; null: nobody is there. Vertices are touched only where the pose is another. */
  pose(state: StageForm | null): void {
    this.wear((state?.body && this.body) || this.head);
    const there = state !== null && this.shown !== null;
    for (const m of Object.values(this.meshes)) {
      m.visible = there;
      if (!state) continue;
      m.matrix.fromArray(state.head);
      m.updateMatrixWorld(true);
    }
    if (state && this.shown?.pose(state)) this.version++;
  }

  /** At rest, straight, in the head's frame. */
  rest(): void {
    const still = new Matrix4().toArray();
    this.pose({ size: 'M', head: still, neck: still, bust: still, body: null, face: {} });
  }

  /** Where somebody is, or their face, hair or hands, white; or all of them, black, for before the sky. */
  matte(name: MatteName): Scene {
    if (name === 'person') return this.whole;
    if (name === 'sky') {
      this.sky.add(this.meshes.before);
      return this.sky;
    }
    this.some.add(this.meshes.before);
    const cut = this.cut();
    if (cut) this.meshes.region.geometry = cut.region(name);
    return this.some;
  }

  private readonly windows = new Map<PatchRegion, { form: Form; places: Float32Array }>();
  /** Places of a region of the face at rest, in the head's frame; null until there is a form. */
  windowPlaces(region: PatchRegion, grid: Grid): Float32Array | null {
    const { form } = this;
    if (!form) return null;
    let known = this.windows.get(region);
    if (known?.form !== form) {
      known = { form, places: windowPlaces(form, region, grid) };
      this.windows.set(region, known);
    }
    return known.places;
  }

  /** What one occluder hides with: follows the form's bend. */
  occluder(): FormOccluder {
    return new FormOccluder(this);
  }

  /** For an occluder: the vertices as they are bent now, and their version. */
  get vertices() {
    const { shown } = this;
    const cut = this.cut();
    return shown && cut && { skin: shown, cut, position: shown.position, normal: shown.normal, version: this.version };
  }

  /** Where the head form's vertices are drawn, in the head's frame: not a number where a body is shown that has them not. */
  headPositions(): ArrayLike<number> | null {
    const { shown } = this;
    if (!shown || !this.form) return null;
    const drawn = shown.position.array;
    if (!('headVertex' in shown.shape)) return drawn;
    const out = new Float32Array(this.form.positions.length).fill(Number.NaN);
    shown.shape.headVertex.forEach((h, v) => {
      if (h >= 0) out.set(drawn.subarray(v * 3, v * 3 + 3), h * 3);
    });
    return out;
  }

  dispose(): void {
    this.head?.dispose();
    this.body?.dispose();
  }
}

/** A region of the form as depth alone. */
export class FormOccluder {
  readonly mesh: Mesh;
  private made = '';
  private grownBy = '';
  private version = -1;
  private of: BufferAttribute | null = null;
  private cut: Cut | null = null;
  private readonly plain = createOccluderMaterial();
  private masked: Material | null = null;

  constructor(private readonly view: FormView) {
    this.mesh = new Mesh(new BufferGeometry(), this.plain);
    this.mesh.matrixAutoUpdate = false;
    this.mesh.frustumCulled = false;
  }

  update(shape: FormShape, matrix: readonly number[]): void {
    const v = this.view.vertices;
    if (!v) return;
    this.mesh.matrix.fromArray(matrix as number[]);
    this.mesh.updateMatrixWorld(true);
    // a soft edge is drawn at several growths, one after another
    const grown = shape.growMm !== 0 || shape.widenMm !== 0 || shape.softMm > 0;
    const key = `${shape.region} ${grown} ${shape.without.join()} ${shape.bare.join()}`;
    const by = `${shape.growMm} ${shape.widenMm}`;
    const anew = key !== this.made || this.of !== v.position || this.cut !== v.cut;
    if (anew) {
      this.letGo();
      const position = grown ? new BufferAttribute(new Float32Array(v.position.array.length), 3) : v.position;
      this.mesh.geometry = geometryOf(position, v.normal, v.cut.regionIndices(shape.region, shape.without));
      const mask = v.skin.mask(shape.bare);
      if (mask) this.mesh.geometry.setAttribute('color', mask);
      if (mask) this.masked ??= createMaskedOccluderMaterial();
      this.mesh.material = (mask && this.masked) || this.plain;
    }
    if (grown && (anew || v.version !== this.version || by !== this.grownBy)) {
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
    this.grownBy = by;
    this.of = v.position;
    this.cut = v.cut;
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
    this.plain.dispose();
    this.masked?.dispose();
  }
}
