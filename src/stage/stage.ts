/**
 * The stage: one WebGL context that draws every view on demand and copies it to that view's own canvas. There is no idle loop.
 */
import {
  Box3,
  type Color,
  Matrix4,
  type Object3D,
  OrthographicCamera,
  type PerspectiveCamera,
  Raycaster,
  Scene,
  type Texture,
  Vector2,
  Vector3,
} from 'three';
import type { MapRole } from '@/core/finish';
import { cameraOf, type LayerSample } from '@/core/fit';
import { type Coarse, type FacePlace, type Form, placeUnder } from '@/core/form';
import type { DrawnBody } from '@/core/form/body';
import type { StageForm, StageLight, StageState } from '@/core/run';
import { SceneAssets } from './assets';
import { Ball, type BallOf } from './ball';
import { Bench, type TableShow } from './bench';
import { type PlateWindow, plateCamera, USUAL_HEIGHT_RAD } from './camera';
import { Draw, type Picture } from './draw';
import { mapOf } from './finishes';
import { FormView } from './formview';
import { freeLight, type HeldLight, holdLight, type LightFile, LitScene } from './light';
import { addLights, createQuayBackdrop, createQuaySky } from './materials';
import { ModelHolder, materialIn } from './models';
import { picturesOf, Solids } from './parts';
import { FacePicture } from './patches';
import { PalePass, type PoorMatte } from './quads';
import { buildRoom } from './room';
import { Surroundings } from './surroundings';
import type { TableLook } from './table';
import { type DrawSize, pixelsOf, View } from './view';

const USUAL = { turnRad: 0, strength: 1 };
/** Environments kept beside the one that is shown. */
const MOST_LIGHTS = 3;
/** Plates are small, and show what a patch is of: px. */
const PLATE_FACE_PX = 480;
/** A picture no higher than this has few triangles of the form, px. */
const FEW_BELOW_PX = 160;

export interface MirrorLook {
  /** The form with few triangles: a hand moves, and drawing is slow. */
  coarsely?: boolean;
  /** Mattes as wrong as a device's; `form`: the wearer as they were when the matte was made, where it comes late. */
  poor?: (PoorMatte & { form: StageForm | null }) | null;
}

export type MapImage = CanvasImageSource & { width: number; height: number };

export class Stage {
  readonly assets = new SceneAssets();
  private readonly view: View;
  private readonly form = new FormView();
  private readonly draw: Draw;
  private readonly bench: Bench;
  private readonly picture = new Scene();
  private readonly clay = new Scene();
  private readonly pale = new PalePass();
  private readonly ball = new Ball();
  private readonly quay = createQuayBackdrop();
  private quaySky: Texture | null = null;
  private readonly around = new Surroundings();
  private readonly litPicture = new LitScene(this.picture);
  /** Environments by name or SHA-256: what the piece looks like now, and the one before. */
  private readonly lights = new Map<string, HeldLight>();

  constructor() {
    buildRoom();
    this.view = new View();
    this.draw = new Draw(this.view, { assets: this.assets, form: this.form, solids: new Solids(), face: new FacePicture() });
    this.bench = new Bench(this.view, this.assets, this.form.clayLook.eyes);
    this.picture.add(this.form.meshes.picture);
    this.clay.add(this.form.meshes.clay);
    addLights(this.clay);
  }

  /** Who is drawn from now on: without a body, head and bust. */
  setWearer({ form, body }: { form: Form; body: DrawnBody | null }): void {
    this.form.set(form);
    this.form.setBody(body);
  }

  /** Parses a stock model once. */
  addModel(sha: string, glb: ArrayBuffer): Promise<void> {
    return this.assets.add(sha, glb);
  }

  hasModel(sha: string): boolean {
    return this.assets.get(sha) !== undefined;
  }

  counts() {
    return { ...this.view.counts(), models: this.assets.size };
  }

  /** Brings an environment on stage, once. */
  addLight(key: string, file: LightFile): void {
    if (this.lights.has(key)) return;
    this.lights.set(key, holdLight(file));
    for (const [old, held] of [...this.lights].slice(0, -MOST_LIGHTS)) {
      freeLight(held);
      this.lights.delete(old);
    }
  }

  hasLight(key: string): boolean {
    return this.lights.has(key);
  }

  /** The few triangles of any form, for small pictures and for moving hands. */
  setCoarse(coarse: Coarse): void {
    this.form.setCoarse(coarse);
  }

  private dress(state: StageState, coarsely = false): void {
    this.form.detail(coarsely);
    this.form.pose(state.form);
    this.draw.dress(state);
    this.light(state.light);
  }

  private heldFor({ environment }: StageLight): HeldLight | null {
    return (environment !== null && this.lights.get(environment)) || null;
  }

  /** Lights parts and wearer; what is not at hand yet is the fitting light until then. */
  private light(light: StageLight): void {
    const held = this.heldFor(light);
    for (const lit of [this.draw.lit, this.litPicture]) lit.set(held, light);
    if (held) this.around.set(held, light);
    this.picture.background = held ? null : this.quay;
    this.view.renderer.toneMappingExposure = 2 ** light.exposureEv;
  }

  /** All a first picture needs but the form, while that is being made: the buffer, the parts, every program. */
  prepare(state: StageState, size: DrawSize): void {
    const { renderer } = this.view;
    const camera = cameraOf(state.camera, size.width / size.height);
    this.draw.dress(state);
    this.view.begin(size);
    renderer.compile(this.picture, camera);
    renderer.render(this.draw.parts, camera);
  }

  /** The piece as the camera sees it. Done when it is copied; nothing else is to be drawn until then. */
  drawMirror(target: HTMLCanvasElement, state: StageState, size: DrawSize, look: MirrorLook): Promise<void> {
    this.dress(state, look.coarsely);
    this.draw.drawLayers(cameraOf(state.camera, size.width / size.height), state, size, this.seen(state, look.poor));
    return this.view.copyWhenDone(target, size);
  }

  /** The camera's picture with the wearer in it, and mattes as good as asked. */
  private seen(state: StageState, poor?: MirrorLook['poor']): Picture {
    const { renderer } = this.view;
    const around = this.picture.background === null;
    return {
      draw: (camera) => {
        if (around) this.around.draw(this.view, camera);
        renderer.render(this.picture, camera);
      },
      matte: (name, camera) => {
        if (name === 'sky' && around) this.around.drawSky(this.view, camera);
        const scene = this.form.matte(name);
        if (name === 'sky' && !around) this.quaySky ??= createQuaySky();
        scene.background = name === 'sky' && !around ? this.quaySky : null;
        renderer.render(scene, camera);
      },
      poor,
      late: poor?.form
        ? (draw) => {
            this.form.pose(poor.form as StageForm);
            draw();
            this.form.pose(state.form);
          }
        : undefined,
    };
  }

  /** One layer of the piece as the camera sees it, on nothing. Done as `drawMirror` is. */
  drawLayer(target: HTMLCanvasElement, state: StageState, size: DrawSize, layer: string): Promise<void> {
    this.dress(state);
    this.draw.drawAlone(cameraOf(state.camera, size.width / size.height), state, size, this.seen(state), layer);
    return this.view.copyWhenDone(target, size);
  }

  /** All that lies at a point of the Mirror (0..1 from its upper left), back to front. */
  stackAt(state: StageState, size: DrawSize, at: readonly [number, number], poor?: MirrorLook['poor']): LayerSample[] {
    this.dress(state);
    const camera = cameraOf(state.camera, size.width / size.height);
    const [w, h] = pixelsOf(size);
    const x = Math.min(w - 1, Math.floor(at[0] * w));
    const y = Math.min(h - 1, Math.floor(at[1] * h));
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2(((x + 0.5) / w) * 2 - 1, 1 - ((y + 0.5) / h) * 2), camera);
    const away = (id: string) => {
      const object = this.draw.objectOf(id);
      return object ? (ray.intersectObject(object, true)[0]?.distance ?? null) : null;
    };
    return state.layers.map((layer): LayerSample => {
      if (layer.kind === 'camera' || layer.kind === 'matte') {
        this.draw.drawAlone(camera, state, size, this.seen(state, poor), layer.id);
        return { layer: layer.id, cover: this.view.alphaAt(x, h - 1 - y), parts: [] };
      }
      if (layer.kind === 'screen') {
        const parts = layer.parts.map((part) => {
          const alone = this.draw.sampleScreen(camera, part, size, x, y);
          return { part, distanceM: null, alone, unhidden: alone, left: alone };
        });
        return { layer: layer.id, cover: 0, parts };
      }
      this.draw.lendTo(layer, camera, state, size, this.seen(state, poor));
      const parts = [...this.draw.sampleParts(camera, layer, size, x, y)].map(([part, [alone, unhidden, left]]) => ({
        part,
        distanceM: away(part),
        alone,
        unhidden,
        left,
      }));
      return { layer: layer.id, cover: 0, parts };
    });
  }

  /** An orthographic, measured view: the form softened, then the parts. Done as `drawMirror` is. */
  drawPlate(
    target: HTMLCanvasElement,
    state: StageState,
    size: DrawSize,
    window: PlateWindow,
    look: { hatched: boolean; formOpacity: number; hatchColor: string; coarsely?: boolean },
  ): Promise<void> {
    this.dress(state, look.coarsely);
    const camera = plateCamera(window, size);
    this.draw.keepFace(state, (c) => this.view.renderer.render(this.clay, c), PLATE_FACE_PX);
    this.view.begin(size);
    const hatch = this.form.hatchLook.uniforms;
    hatch.spacing.value = 7 * size.ratio;
    (hatch.ink.value as Color).set(look.hatchColor);
    const occluding = state.parts.some((p) => p.shape?.type === 'form' && p.shown);
    if (look.hatched && occluding) this.clay.add(this.form.meshes.hatch);
    this.view.renderer.render(this.clay, camera);
    this.clay.remove(this.form.meshes.hatch);
    const clay = this.view.grab(size);
    this.view.begin(size);
    this.pale.draw(this.view, clay, look.formOpacity);
    clay.dispose();
    this.view.renderer.clearDepth();
    this.draw.drawTogether(camera, state);
    if (look.hatched) this.draw.hatchOccluders(camera, this.form.hatchLook);
    return this.view.copyWhenDone(target, size);
  }

  private renderStill(state: StageState, size: DrawSize): void {
    this.dress(state, size.height * size.ratio <= FEW_BELOW_PX);
    this.draw.drawLayers(cameraOf(state.camera, size.width / size.height), state, size, {
      ...this.seen(state),
      draw: (camera) => this.view.renderer.render(this.clay, camera),
    });
  }

  /** A still for the pose strip: clay form, all layers, no ground. Done as `drawMirror` is. */
  drawStill(target: HTMLCanvasElement, state: StageState, size: DrawSize): Promise<void> {
    this.renderStill(state, size);
    return this.view.copyWhenDone(target, size);
  }

  /** The same as PNG, for keeping: covers. */
  stillPng(state: StageState, size: DrawSize): Promise<Blob> {
    return this.view.toPng((canvas) => {
      this.renderStill(state, size);
      this.view.copyTo(canvas, size);
    });
  }

  /** What is looked at apart from any piece, is seen as it is. */
  private plainExposure(): void {
    this.view.renderer.toneMappingExposure = 1;
  }

  /** Models on the turntable, by one camera. Returns false where one is not parsed yet. */
  drawTable(target: HTMLCanvasElement, size: DrawSize, show: TableShow): boolean {
    this.plainExposure();
    return this.bench.draw(target, size, show);
  }

  /** A stock model alone on the turntable. @param headingRad turn of the table about up */
  drawTurntable(target: HTMLCanvasElement, sha: string, size: DrawSize, headingRad: number, look: TableLook): boolean {
    return this.drawTable(target, size, { items: [{ sha }], frame: { sha }, view: { headingRad, heightRad: USUAL_HEIGHT_RAD }, look });
  }

  /** The place under a point of a drawn table (0..1 from its upper left), metres of what lies there; null beside it. */
  pickTable(size: DrawSize, show: TableShow, x: number, y: number): [number, number, number] | null {
    return this.bench.pick(size, show, x, y);
  }

  /** Where places of what lies on a drawn table are in its picture, two numbers each, 0..1 from its upper left; null where it is not parsed yet. */
  marksOnTable(size: DrawSize, show: TableShow, places: ArrayLike<number>): Float64Array | null {
    return this.bench.marks(size, show, places);
  }

  /** A finish as a ball, on nothing, under the piece's own light. @param sha the GLB whose material wears it; null: something without one */
  drawBall(target: HTMLCanvasElement, size: DrawSize, of: BallOf, sha: string | null, light: StageLight): Promise<void> {
    const model = sha === null ? undefined : this.assets.get(sha);
    this.bench.lit.set(this.heldFor(light), light);
    this.view.renderer.toneMappingExposure = 2 ** light.exposureEv;
    this.ball.show(of, model, picturesOf(this.assets), (ball, camera) => this.bench.alone(ball, camera, size));
    this.bench.lit.set(null, USUAL);
    return this.view.copyWhenDone(target, size);
  }

  /**
   * The picture that a material of a GLB has in a role, or the picture of a GLB of Stock (`role` null); null: there is none;
   * `compressed`: its pixels cannot be read.
   */
  mapImage(sha: string, role: MapRole | null, material = ''): MapImage | 'compressed' | null {
    const model = this.assets.get(sha);
    if (!model) return null;
    const map = role ? mapOf(materialIn(model, material), role) : picturesOf(this.assets)(sha);
    if (!map) return null;
    const image = map.image as MapImage | null;
    return !('isCompressedTexture' in map) && image && image.width > 0 ? image : 'compressed';
  }

  /** A model seen straight on, for the sheet of silhouettes: `pxPerM` decides its size. */
  drawFrontal(target: HTMLCanvasElement, sha: string, size: DrawSize, pxPerM: number, middleUpM: number): void {
    const model = this.assets.get(sha);
    if (!model) return;
    this.plainExposure();
    const part = new ModelHolder('front', sha, model);
    const box = new Box3().setFromObject(part.holder);
    if (box.isEmpty()) return;
    const middle = box.getCenter(new Vector3());
    const depth = box.getSize(new Vector3()).z + 1;
    const camera = frontal(size, pxPerM, depth * 4);
    camera.position.set(middle.x, middle.y + middleUpM, box.max.z + depth);
    this.bench.alone(part.holder, camera, size);
    part.free();
    this.view.copyTo(target, size);
  }

  /** The form alone, straight on, beside a model of the same scale. */
  drawFormFrontal(target: HTMLCanvasElement, size: DrawSize, pxPerM: number, middleUpM: number): void {
    if (!this.form.form) return;
    this.plainExposure();
    this.form.detail(false);
    this.form.rest();
    const camera = frontal(size, pxPerM, 4);
    camera.position.set(0, middleUpM, 2);
    this.view.begin(size);
    this.view.renderer.render(this.clay, camera);
    this.view.copyTo(target, size);
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

  /** The place of the wearer's skin under a point of the Mirror, whatever is before it; null beside it. */
  pickSkin(state: StageState, aspect: number, x: number, y: number): FacePlace | null {
    this.form.pose(state.form);
    return this.skinWith(state, cameraOf(state.camera, aspect), x, y);
  }

  pickSkinOnPlate(state: StageState, size: DrawSize, window: PlateWindow, x: number, y: number): FacePlace | null {
    this.form.pose(state.form);
    return this.skinWith(state, plateCamera(window, size), x, y);
  }

  private skinWith(state: StageState, camera: PerspectiveCamera | OrthographicCamera, x: number, y: number): FacePlace | null {
    const { form } = this.form;
    const positions = this.form.headPositions();
    if (!form || !positions || !state.form) return null;
    camera.updateMatrixWorld(true);
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2(x * 2 - 1, 1 - y * 2), camera);
    const back = new Matrix4().fromArray(state.form.head).invert();
    const way = ray.ray.direction.clone().transformDirection(back);
    return placeUnder(form, positions, ray.ray.origin.clone().applyMatrix4(back), way);
  }

  private pickWith(camera: PerspectiveCamera | OrthographicCamera, x: number, y: number): string | null {
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2(x * 2 - 1, 1 - y * 2), camera);
    let o: Object3D | null = ray.intersectObjects(this.draw.shown(), true)[0]?.object ?? null;
    while (o && typeof o.userData.part !== 'string') o = o.parent;
    return (o?.userData.part as string | undefined) ?? null;
  }

  dispose(): void {
    this.view.renderer.dispose();
    this.form.dispose();
  }
}

function frontal(size: DrawSize, pxPerM: number, far: number): OrthographicCamera {
  const [w, h] = [size.width / pxPerM / 2, size.height / pxPerM / 2];
  return new OrthographicCamera(-w, w, h, -h, 0, far);
}
