/**
 * The stage: one WebGL context that draws every view on demand and copies it to that view's own canvas. There is no
 * idle loop. The wearer is drawn first, as the camera's picture; then depth is cleared, so that only occluders hide anything.
 */
import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  type Color,
  type Material,
  Mesh,
  NeutralToneMapping,
  type Object3D,
  OrthographicCamera,
  type PerspectiveCamera,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three';
import type { StageState } from '@/core/evaluate';
import { cameraOf } from '@/core/fit';
import type { Form } from '@/core/form';
import {
  addLights,
  createClayLook,
  createHatchMaterial,
  createOccluderMaterial,
  createQuayBackdrop,
  createWearerLook,
  dressedColors,
} from './materials';
import { type DrawnModel, DrawnPart, parseModel } from './models';
import { buildRoom } from './room';
import { type HeatSurface, type OnTable, Table, type TableDab, type TableLook, type TableView, USUAL_HEIGHT_RAD } from './table';

/** What a plate shows, in millimetres of the head frame. */
export interface PlateWindow {
  side: 'front' | 'side';
  /** Middle of the window: across (side for front, fore for side) and up. */
  acrossMm: number;
  upMm: number;
  pxPerMm: number;
}

export interface DrawSize {
  /** CSS pixels. */
  width: number;
  height: number;
  ratio: number;
}

/** What one view of the turntable shows. */
export interface TableShow {
  /** Drawn, in this order; seen by the camera that frames `frame`. */
  items: readonly OnTable[];
  frame: OnTable;
  view: TableView;
  look: TableLook;
  /** Of the edges of triangles; left out, dark. */
  ink?: string;
  heat?: HeatSurface;
  dabs?: { list: readonly TableDab[]; color: string };
}

export class Stage {
  private readonly renderer: WebGLRenderer;
  private readonly picture = new Scene();
  private readonly clay = new Scene();
  private readonly bench = new Scene();
  private readonly occluders = new Scene();
  private readonly parts = new Scene();
  private readonly wearer = createWearerLook();
  private readonly clayLook = createClayLook();
  private readonly hatch = createHatchMaterial();
  private readonly models = new Map<string, Promise<DrawnModel>>();
  private readonly ready = new Map<string, DrawnModel>();
  private readonly drawn = new Map<string, DrawnPart>();
  private form: { geometry: BufferGeometry; source: Form } | null = null;
  private readonly formMeshes: Record<'picture' | 'clay' | 'occluder' | 'hatch', Mesh>;
  private readonly scratch = document.createElement('canvas');

  constructor() {
    buildRoom();
    this.renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true, powerPreference: 'low-power' });
    this.renderer.toneMapping = NeutralToneMapping;
    this.renderer.autoClear = false;
    this.renderer.setPixelRatio(1);
    const empty = new BufferGeometry();
    const mesh = (m: Material | Material[]) => {
      const o = new Mesh(empty, m);
      o.matrixAutoUpdate = false;
      o.visible = false;
      return o;
    };
    this.formMeshes = {
      picture: mesh([this.wearer.skin, this.wearer.eyes]),
      clay: mesh([this.clayLook.skin, this.clayLook.eyes]),
      occluder: mesh(createOccluderMaterial()),
      hatch: mesh(this.hatch),
    };
    this.picture.background = createQuayBackdrop();
    this.picture.add(this.formMeshes.picture);
    this.clay.add(this.formMeshes.clay);
    this.occluders.add(this.formMeshes.occluder);
    for (const scene of [this.picture, this.clay, this.parts, this.bench]) addLights(scene);
  }

  setForm(form: Form): void {
    if (this.form?.source === form) return;
    const geometry = new BufferGeometry();
    const attribute = (name: string, data: Float32Array, size: number) => geometry.setAttribute(name, new BufferAttribute(data, size));
    attribute('position', form.positions, 3);
    attribute('normal', form.normals, 3);
    attribute('color', form.colors, 3);
    geometry.setIndex(new BufferAttribute(form.indices, 1));
    form.groups.forEach((g, i) => {
      geometry.addGroup(g.start, g.count, i);
    });
    this.form?.geometry.dispose();
    this.form = { geometry, source: form };
    const dressed = geometry.clone();
    dressed.setAttribute('color', new BufferAttribute(dressedColors(form), 3));
    this.formMeshes.clay.geometry = geometry;
    this.formMeshes.picture.geometry = dressed;
    // one material for the whole shape: groups would ask for one each
    const bare = new BufferGeometry();
    bare.setAttribute('position', geometry.getAttribute('position'));
    bare.setIndex(geometry.getIndex());
    this.formMeshes.occluder.geometry = bare;
    this.formMeshes.hatch.geometry = bare;
    for (const m of Object.values(this.formMeshes)) m.visible = true;
  }

  /** Parses a stock model once. */
  async addModel(sha: string, glb: ArrayBuffer): Promise<void> {
    let parsing = this.models.get(sha);
    if (!parsing) {
      parsing = parseModel(glb);
      this.models.set(sha, parsing);
    }
    this.ready.set(sha, await parsing);
  }

  hasModel(sha: string): boolean {
    return this.ready.has(sha);
  }

  /** Puts an evaluated state on stage. */
  private dress(state: StageState): { occluding: boolean } {
    const keep = new Set<string>();
    for (const part of state.parts) {
      if (part.kind !== 'model' || !part.model) continue;
      const model = this.ready.get(part.model);
      if (!model) continue;
      let drawn = this.drawn.get(part.id);
      if (drawn && drawn.model !== part.model) {
        this.parts.remove(drawn.holder);
        drawn = undefined;
      }
      if (!drawn) {
        drawn = new DrawnPart(part.id, part.model, model);
        this.drawn.set(part.id, drawn);
        this.parts.add(drawn.holder);
      }
      drawn.apply(part);
      drawn.holder.renderOrder = keep.size;
      keep.add(part.id);
    }
    for (const [id, drawn] of this.drawn)
      if (!keep.has(id)) {
        this.parts.remove(drawn.holder);
        this.drawn.delete(id);
      }
    const matrix = state.form?.matrix;
    for (const m of Object.values(this.formMeshes)) {
      m.visible = this.form !== null && matrix !== undefined;
      if (matrix) m.matrix.fromArray(matrix);
      m.updateMatrixWorld(true);
    }
    const occluding = state.parts.some((p) => p.kind === 'occluder' && p.shown);
    return { occluding };
  }

  private begin({ width, height, ratio }: DrawSize): void {
    const [w, h] = [Math.max(1, Math.round(width * ratio)), Math.max(1, Math.round(height * ratio))];
    const canvas = this.renderer.domElement;
    // a smaller view uses a corner: resizing the buffer for every view is slow
    if (canvas.width < w || canvas.height < h) this.renderer.setSize(Math.max(canvas.width, w), Math.max(canvas.height, h), false);
    this.renderer.setViewport(0, 0, w, h);
    this.renderer.setScissor(0, 0, w, h);
    this.renderer.setScissorTest(true);
    this.hatch.uniforms.spacing.value = 7 * ratio;
    this.renderer.setClearColor(0x000000, 0);
    this.renderer.clear();
  }

  private copyTo(target: HTMLCanvasElement, size: DrawSize, alpha = 1, fresh = true): void {
    const [w, h] = [Math.max(1, Math.round(size.width * size.ratio)), Math.max(1, Math.round(size.height * size.ratio))];
    if (target.width !== w || target.height !== h) {
      target.width = w;
      target.height = h;
    }
    const x = target.getContext('2d');
    if (!x) return;
    if (fresh) x.clearRect(0, 0, w, h);
    x.globalAlpha = alpha;
    x.drawImage(this.renderer.domElement, 0, this.renderer.domElement.height - h, w, h, 0, 0, w, h);
    x.globalAlpha = 1;
  }

  /** Occluders into the depth, then parts. Depth was cleared before. */
  private drawParts(camera: PerspectiveCamera | OrthographicCamera, occluding: boolean): void {
    if (occluding) this.renderer.render(this.occluders, camera);
    this.renderer.render(this.parts, camera);
  }

  /** The piece as the camera sees it. */
  drawMirror(target: HTMLCanvasElement, state: StageState, size: DrawSize, look: { backdrop: boolean }): void {
    const { occluding } = this.dress(state);
    const camera = cameraOf(state.camera, size.width / size.height);
    this.begin(size);
    const backdrop = this.picture.background;
    if (!look.backdrop) this.picture.background = null;
    this.renderer.render(this.picture, camera);
    this.picture.background = backdrop;
    this.renderer.clearDepth();
    this.drawParts(camera, occluding);
    this.copyTo(target, size);
  }

  /** An orthographic, measured view: the form softened, then the parts. */
  drawPlate(
    target: HTMLCanvasElement,
    state: StageState,
    size: DrawSize,
    window: PlateWindow,
    look: { hatched: boolean; formOpacity: number; hatchColor: string },
  ): void {
    const { occluding } = this.dress(state);
    const camera = plateCamera(window, size);
    this.begin(size);
    (this.hatch.uniforms.ink.value as Color).set(look.hatchColor);
    if (look.hatched && occluding) this.clay.add(this.formMeshes.hatch);
    this.renderer.render(this.clay, camera);
    this.clay.remove(this.formMeshes.hatch);
    this.copyTo(target, size, look.formOpacity);
    this.begin(size);
    this.drawParts(camera, occluding);
    this.copyTo(target, size, 1, false);
  }

  /** A still for pose strip and covers: clay form, parts, no ground. */
  drawStill(target: HTMLCanvasElement, state: StageState, size: DrawSize): void {
    const { occluding } = this.dress(state);
    const camera = cameraOf(state.camera, size.width / size.height);
    this.begin(size);
    this.renderer.render(this.clay, camera);
    this.renderer.clearDepth();
    this.drawParts(camera, occluding);
    this.copyTo(target, size);
  }

  /** A table with what is shown on it; null where a model is not parsed yet, or nothing is there to frame. */
  private lay({ items, frame, view, look, ink = '#14283a', heat, dabs }: TableShow): Table | null {
    const framed = this.ready.get(frame.sha);
    const models = items.map((i) => this.ready.get(i.sha));
    if (!framed || models.some((m) => !m)) return null;
    const table = new Table(view);
    if (!table.frame(frame, framed)) return null;
    items.forEach((item, i) => {
      table.put(item, models[i] as DrawnModel, look, this.clayLook.eyes, ink);
    });
    if (heat) table.putHeat(heat);
    if (dabs) table.putDabs(dabs.list, dabs.color);
    return table;
  }

  /** Models on the turntable, by one camera. Returns false where one is not parsed yet. */
  drawTable(target: HTMLCanvasElement, size: DrawSize, show: TableShow): boolean {
    const table = this.lay(show);
    if (!table) return false;
    this.bench.add(table.group);
    this.begin(size);
    this.renderer.render(this.bench, table.camera(size.width / size.height));
    this.bench.remove(table.group);
    table.dispose();
    this.copyTo(target, size);
    return true;
  }

  /** A stock model alone on the turntable. @param headingRad turn of the table about up */
  drawTurntable(target: HTMLCanvasElement, sha: string, size: DrawSize, headingRad: number, look: TableLook): boolean {
    return this.drawTable(target, size, { items: [{ sha }], frame: { sha }, view: { headingRad, heightRad: USUAL_HEIGHT_RAD }, look });
  }

  /** The place under a point of a drawn table (0..1 from its upper left), metres of what lies there; null beside it. */
  pickTable(size: DrawSize, show: TableShow, x: number, y: number): [number, number, number] | null {
    const table = this.lay(show);
    const at = table?.pick(size.width / size.height, x, y) ?? null;
    table?.dispose();
    return at;
  }

  /** A model seen straight on, for the sheet of silhouettes: `pxPerM` decides its size. */
  drawFrontal(target: HTMLCanvasElement, sha: string, size: DrawSize, pxPerM: number, middleUpM: number): void {
    const model = this.ready.get(sha);
    if (!model) return;
    const part = new DrawnPart('front', sha, model);
    const box = new Box3().setFromObject(part.holder);
    if (box.isEmpty()) return;
    const middle = box.getCenter(new Vector3());
    const depth = box.getSize(new Vector3()).z + 1;
    this.bench.add(part.holder);
    const [w, h] = [size.width / pxPerM / 2, size.height / pxPerM / 2];
    const camera = new OrthographicCamera(-w, w, h, -h, 0, depth * 4);
    camera.position.set(middle.x, middle.y + middleUpM, box.max.z + depth);
    this.begin(size);
    this.renderer.render(this.bench, camera);
    this.bench.remove(part.holder);
    this.copyTo(target, size);
  }

  /** The form alone, straight on, beside a model of the same scale. */
  drawFormFrontal(target: HTMLCanvasElement, size: DrawSize, pxPerM: number, middleUpM: number): void {
    if (!this.form) return;
    for (const m of Object.values(this.formMeshes)) m.matrix.identity();
    this.formMeshes.clay.updateMatrixWorld(true);
    const [w, h] = [size.width / pxPerM / 2, size.height / pxPerM / 2];
    const camera = new OrthographicCamera(-w, w, h, -h, 0, 4);
    camera.position.set(0, middleUpM, 2);
    this.begin(size);
    this.renderer.render(this.clay, camera);
    this.copyTo(target, size);
  }

  /** The part under a point of the Mirror (0..1 from its upper left), or null. */
  pick(state: StageState, aspect: number, x: number, y: number): string | null {
    this.dress(state);
    return this.pickWith(cameraOf(state.camera, aspect), x, y);
  }

  pickPlate(state: StageState, size: DrawSize, window: PlateWindow, x: number, y: number): string | null {
    this.dress(state);
    return this.pickWith(plateCamera(window, size), x, y);
  }

  private pickWith(camera: PerspectiveCamera | OrthographicCamera, x: number, y: number): string | null {
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2(x * 2 - 1, 1 - y * 2), camera);
    const hit = ray.intersectObjects(
      [...this.drawn.values()].filter((d) => d.holder.visible).map((d) => d.holder),
      true,
    )[0];
    let o: Object3D | null = hit?.object ?? null;
    while (o && typeof o.userData.part !== 'string') o = o.parent;
    return (o?.userData.part as string | undefined) ?? null;
  }

  /** A view as PNG, for keeping. */
  toPng(draw: (canvas: HTMLCanvasElement) => void): Promise<Blob> {
    draw(this.scratch);
    return new Promise((resolve, reject) =>
      this.scratch.toBlob((b) => (b ? resolve(b) : reject(new Error('The picture could not be encoded.'))), 'image/png'),
    );
  }

  dispose(): void {
    this.renderer.dispose();
    this.form?.geometry.dispose();
  }
}

/** Front looks along −fore; side looks from the wearer's left, fore to the picture's left. */
export function plateCamera(window: PlateWindow, size: DrawSize): OrthographicCamera {
  const halfW = size.width / window.pxPerMm / 2000;
  const halfH = size.height / window.pxPerMm / 2000;
  const reach = 50;
  const camera = new OrthographicCamera(-halfW, halfW, halfH, -halfH, 0, 2 * reach);
  const up = window.upMm / 1000;
  const across = window.acrossMm / 1000;
  if (window.side === 'front') {
    camera.position.set(across, up, reach);
    camera.lookAt(across, up, 0);
  } else {
    camera.position.set(reach, up, across);
    camera.lookAt(0, up, across);
  }
  camera.updateMatrixWorld();
  camera.updateProjectionMatrix();
  return camera;
}
