/** Stage state → passes, layer after layer, back to front. Depth is cleared before each layer of parts, so that only its own occluders hide. */
import { DataTexture, type Material, type OrthographicCamera, type PerspectiveCamera, Scene, type Texture } from 'three';
import { cameraOf } from '@/core/fit';
import type { Matte, MatteName } from '@/core/piece';
import type { StageLayer, StageState } from '@/core/run';
import { LitScene } from './light';
import { type DrawnPart, keyOfPart, makeDrawn, type PartContext } from './parts';
import { MattePass, MeanPass, type PoorMatte } from './quads';
import { neededBy, putCamera, putMatte } from './screen';
import { type DrawSize, type Grab, pixelsOf, type View } from './view';

export type AnyCamera = PerspectiveCamera | OrthographicCamera;

/** How the wearer is drawn under and between the layers. */
export interface Picture {
  draw: (camera: AnyCamera) => void;
  /** Where somebody is, or some of them, or the sky, white. */
  matte: (name: MatteName, camera: AnyCamera) => void;
  /** How wrong mattes are; null: exact. */
  poor?: PoorMatte | null;
  /** Mattes that come late are drawn in here, with the wearer as they were. */
  late?: (draw: () => void) => void;
}
/** Mattes by name, and what was kept of the picture. */
interface Kept {
  picture: Grab;
  mattes: Map<MatteName, Grab>;
}
type Which = (layer: StageLayer) => boolean;
const EVERY_LAYER: Which = () => true;
const CAMERA = 'camera';
/** A picture of which only its matte counts. */
const WHITE = /* @__PURE__ */ whiteTexture();
function whiteTexture(): Texture {
  const texture = new DataTexture(Uint8Array.of(255, 255, 255, 255), 1, 1);
  texture.needsUpdate = true;
  return texture;
}

/** A face is not looked at closer than this, px. */
const MOST_FACE_PX = 1280;

export class Draw {
  /** Parts with their lights; occluders apart, so that depth comes before any colour. */
  readonly parts = new Scene();
  readonly lit = new LitScene(this.parts);
  readonly occluders = new Scene();
  private readonly drawn = new Map<string, DrawnPart>();
  private readonly matte = new MattePass();
  private readonly mean = new MeanPass();
  private dressed: StageState | null = null;
  private dressedWith = '';
  /** What finishes read of the picture drawn last. */
  private readonly lent = new Map<string, Grab>();

  constructor(
    private readonly view: View,
    private readonly context: PartContext,
  ) {}

  /** Keeps one drawn object a part and changes only what changed. Views of one state dress it once. */
  dress(state: StageState): void {
    // what came meanwhile dresses the same state anew: a model, or the form that occluders are cut from
    const dressedWith = `${this.context.assets.version} ${this.context.form.version}`;
    if (state === this.dressed && dressedWith === this.dressedWith) return;
    this.dressed = state;
    this.dressedWith = dressedWith;
    const keep = new Set<string>();
    for (const part of state.parts) {
      if (!part.shape) continue;
      let drawn = this.drawn.get(part.id);
      if (drawn && drawn.key !== keyOfPart(part, part.shape)) {
        this.drop(part.id, drawn);
        drawn = undefined;
      }
      if (!drawn) {
        const made = makeDrawn(part, part.shape, this.context);
        if (!made) continue;
        drawn = made;
        this.drawn.set(part.id, drawn);
        if (drawn.object) (drawn.occludes ? this.occluders : this.parts).add(drawn.object);
      }
      drawn.update(part);
      keep.add(part.id);
    }
    for (const [id, drawn] of this.drawn) if (!keep.has(id)) this.drop(id, drawn);
  }

  private drop(id: string, drawn: DrawnPart): void {
    drawn.object?.removeFromParent();
    drawn.free();
    this.drawn.delete(id);
  }

  /** Objects of parts that are shown, for picking. */
  shown() {
    return [...this.drawn.values()].flatMap((d) => (d.object?.visible && !d.occludes ? [d.object] : []));
  }

  /** Some of the parts alone: the others are switched off for as long as `work` takes. */
  private only(ids: ReadonlySet<string>, work: () => void): void {
    if (ids.size >= this.drawn.size && [...this.drawn.keys()].every((id) => ids.has(id))) {
      work();
      return;
    }
    const off = [...this.drawn].filter(([id, d]) => d.object?.visible && !ids.has(id)).map(([, d]) => d);
    for (const d of off) if (d.object) d.object.visible = false;
    work();
    for (const d of off) if (d.object) d.object.visible = true;
  }

  private occludes(ids: Iterable<string>): boolean {
    for (const id of ids) {
      const d = this.drawn.get(id);
      if (d?.occludes && d.object?.visible) return true;
    }
    return false;
  }

  /** Occluders into the depth, then parts. */
  private drawParts(camera: AnyCamera, ids: readonly string[]): void {
    this.only(new Set(ids), () => {
      if (this.occludes(ids)) this.view.renderer.render(this.occluders, camera);
      this.view.renderer.render(this.parts, camera);
    });
  }

  private drawPartsLayer(camera: AnyCamera, layer: StageLayer): void {
    const { renderer } = this.view;
    if (layer.sort === 'depth') {
      renderer.clearDepth();
      this.drawParts(camera, layer.parts);
      return;
    }
    // each on top of what is before it; what occludes, occludes each
    const occluders = layer.parts.filter((id) => this.drawn.get(id)?.occludes);
    for (const id of layer.parts) {
      if (occluders.includes(id) || !this.drawn.get(id)?.object?.visible) continue;
      renderer.clearDepth();
      this.drawParts(camera, [...occluders, id]);
    }
  }

  /** The camera's picture for live patches, where some are shown; the view is empty after it. */
  keepFace(state: StageState, picture: Picture['draw'], heightPx: number): void {
    const { face } = this.context;
    face.free();
    if (!state.form || !state.parts.some((p) => p.shown && p.shape?.type === 'patch')) return;
    const { widthPx = 720, heightPx: full = 1280 } = state.camera;
    const size = { width: Math.round((heightPx * widthPx) / full), height: heightPx, ratio: 1 };
    const camera = cameraOf(state.camera, widthPx / full);
    this.view.begin(size);
    picture(camera);
    face.set(this.view.grab(size), camera, state.form.head);
  }

  /** Parts of every layer that is on, in one depth, with what occludes: for measured views. */
  drawTogether(camera: AnyCamera, state: StageState): void {
    const on = new Set(state.layers.filter((l) => l.shown).map((l) => l.id));
    this.drawParts(
      camera,
      state.parts.filter((p) => on.has(p.layer)).map((p) => p.id),
    );
  }

  /** All layers, back to front. Soft edges are the mean of hard ones, from half their width within to half of it beyond. */
  drawLayers(camera: AnyCamera, state: StageState, size: DrawSize, picture: Picture): void {
    const soft = state.parts.filter((p) => p.shown && p.shape?.type === 'form' && p.shape.softMm > 0);
    if (soft.length === 0) {
      this.drawHard(camera, state, size, picture);
      return;
    }
    const steps: Grab[] = [];
    for (let k = 0; k < MeanPass.STEPS; k++) {
      for (const p of soft)
        if (p.shape?.type === 'form') {
          const growMm = p.shape.growMm + p.shape.softMm * ((k + 0.5) / MeanPass.STEPS - 0.5);
          this.drawn.get(p.id)?.update({ ...p, shape: { ...p.shape, growMm } });
        }
      this.drawHard(camera, state, size, picture);
      steps.push(this.view.grab(size));
    }
    this.view.begin(size);
    this.mean.draw(this.view, steps);
    for (const step of steps) step.dispose();
    for (const p of soft) this.drawn.get(p.id)?.update(p);
  }

  /** What occludes with a shape of its own, as lines: for measured views. */
  hatchOccluders(camera: AnyCamera, material: Material): void {
    const forms = [...this.drawn.values()].filter((d) => d.type === 'form' && d.object?.visible);
    for (const d of forms) if (d.object) d.object.visible = false;
    this.occluders.overrideMaterial = material;
    this.view.renderer.render(this.occluders, camera);
    this.occluders.overrideMaterial = null;
    for (const d of forms) if (d.object) d.object.visible = true;
  }

  /** One layer on nothing, as hard as it is without soft edges. */
  drawAlone(camera: AnyCamera, state: StageState, size: DrawSize, picture: Picture, layer: string): void {
    this.drawHard(camera, state, size, picture, ({ id }) => id === layer);
  }

  private drawHard(camera: AnyCamera, state: StageState, size: DrawSize, picture: Picture, which: Which = EVERY_LAYER): void {
    const { renderer } = this.view;
    const layers = state.layers.filter((l) => l.shown && which(l));
    const scale = (size.height * size.ratio) / (state.camera.heightPx ?? 1280);
    this.keepFace(state, picture.draw, Math.min(MOST_FACE_PX, Math.round(size.height * size.ratio)));
    const needs = neededBy(state.parts.filter((p) => p.shown && layers.some((l) => l.id === p.layer)).map((p) => p.wears));
    const kept = this.keepPicture(camera, layers, size, picture, needs);
    this.lendScreen(kept, needs, size, picture.poor ?? null, scale);
    const grown = new Map(
      layers.flatMap(({ id, matte }): [string, Grab][] => {
        const made = matte && kept && this.matte.prepare(this.view, size, mattesOf(kept, matte), matte.growPx, picture.poor ?? null, scale);
        return made ? [[id, made]] : [];
      }),
    );
    this.view.begin(size);
    for (const layer of layers) {
      if (layer.kind === 'camera') {
        renderer.clearDepth();
        picture.draw(camera);
      } else if (layer.kind === 'screen') this.drawScreens(camera, layer, size, state);
      else if (layer.matte && kept) {
        const { featherPx, invert } = layer.matte;
        const edge = grown.get(layer.id) ?? mattesOf(kept, layer.matte);
        this.matte.draw(this.view, size, kept.picture, edge, (featherPx + (picture.poor?.softPx ?? 0)) * scale, invert);
      } else if (layer.kind === 'parts') this.drawPartsLayer(camera, layer);
    }
    for (const grab of [...(kept?.mattes.values() ?? []), ...grown.values()]) grab.dispose();
    if (kept && !needs.camera) kept.picture.dispose();
  }

  /** What finishes read of the picture; it stays until the next one is drawn. */
  private lendScreen(kept: Kept | null, needs: ReturnType<typeof neededBy>, size: DrawSize, poor: PoorMatte | null, scale: number): void {
    for (const grab of this.lent.values()) grab.dispose();
    for (const key of this.lent.keys()) if (key !== CAMERA) putMatte(key, null);
    this.lent.clear();
    putCamera(needs.camera && kept ? kept.picture : null);
    if (!kept) return;
    if (needs.camera) this.lent.set(CAMERA, kept.picture);
    for (const [key, matte] of needs.mattes) {
      const { growPx, featherPx, invert } = matte;
      const grown = this.matte.prepare(this.view, size, mattesOf(kept, matte), growPx, poor, scale);
      this.view.begin(size);
      this.matte.draw(this.view, size, WHITE, grown ?? mattesOf(kept, matte), (featherPx + (poor?.softPx ?? 0)) * scale, invert);
      const made = this.view.grab(size);
      grown?.dispose();
      this.lent.set(key, made);
      putMatte(key, made);
    }
  }

  /** What parts of a layer read of the picture (masks, the camera) is drawn, for whoever samples them next. */
  lendTo(layer: StageLayer, camera: AnyCamera, state: StageState, size: DrawSize, picture: Picture): void {
    const ids = new Set(layer.parts);
    const needs = neededBy(state.parts.filter((p) => ids.has(p.id)).map((p) => p.wears));
    if (needs.camera || needs.mattes.size > 0) this.drawAlone(camera, state, size, picture, layer.id);
  }

  /**
   * What of each part of a layer is left at one pixel (from the upper left): alone, with what occludes before it, with all else of its
   * layer in the depth. As alpha, 0 … 1. Parts that are switched off are drawn for it.
   */
  sampleParts(camera: AnyCamera, layer: StageLayer, size: DrawSize, x: number, y: number): Map<string, [number, number, number]> {
    const { renderer } = this.view;
    const ids = layer.parts.filter((id) => this.drawn.get(id)?.object && !this.drawn.get(id)?.occludes);
    const others = layer.parts.filter((id) => this.drawn.get(id)?.occludes);
    const shown = new Set(ids.filter((id) => this.drawn.get(id)?.object?.visible));
    const [, high] = pixelsOf(size);
    const alpha = () => this.view.alphaAt(x, high - 1 - y);
    const begin = () => {
      this.view.begin(size);
      renderer.setScissor(x, high - 1 - y, 1, 1);
    };
    const one = (id: string) => {
      const object = this.drawn.get(id)?.object;
      const was = object?.visible ?? false;
      if (object) object.visible = true;
      this.only(new Set([id]), () => renderer.render(this.parts, camera));
      if (object) object.visible = was;
    };
    const out = new Map<string, [number, number, number]>();
    for (const id of ids) {
      begin();
      one(id);
      const alone = alpha();
      if (alone === 0) {
        out.set(id, [0, 0, 0]);
        continue;
      }
      begin();
      if (this.occludes(others)) this.only(new Set(others), () => renderer.render(this.occluders, camera));
      one(id);
      const unhidden = alpha();
      let left = unhidden;
      if (layer.sort === 'depth' && unhidden > 0 && shown.size > 1) {
        begin();
        if (this.occludes(others)) this.only(new Set(others), () => renderer.render(this.occluders, camera));
        this.only(new Set([...shown].filter((s) => s !== id)), () => renderer.render(this.parts, camera));
        renderer.clear(true, false, false);
        one(id);
        left = alpha();
      }
      out.set(id, [alone, unhidden, left]);
    }
    return out;
  }

  /** Objects of parts by id, whether they are shown or not. */
  objectOf(id: string) {
    return this.drawn.get(id)?.object ?? null;
  }

  /** A screen's own alpha at one pixel. */
  sampleScreen(camera: AnyCamera, id: string, size: DrawSize, x: number, y: number): number {
    const [, high] = pixelsOf(size);
    this.view.begin(size);
    this.view.renderer.setScissor(x, high - 1 - y, 1, 1);
    this.drawn.get(id)?.fills?.draw(this.view, size, camera);
    return this.view.alphaAt(x, high - 1 - y);
  }

  private drawScreens(camera: AnyCamera, layer: StageLayer, size: DrawSize, state: StageState): void {
    const shown = new Set(state.parts.filter((p) => p.shown).map((p) => p.id));
    for (const id of layer.parts) if (shown.has(id)) this.drawn.get(id)?.fills?.draw(this.view, size, camera);
  }

  /** The camera's picture and who is in it, kept before anything is laid over it; null where no layer asks for it. */
  private keepPicture(
    camera: AnyCamera,
    layers: readonly StageLayer[],
    size: DrawSize,
    picture: Picture,
    needs: ReturnType<typeof neededBy>,
  ): Kept | null {
    const names = new Set(layers.flatMap((l) => (l.kind === 'matte' && l.matte ? [l.matte.name] : [])));
    for (const { name } of needs.mattes.values()) names.add(name);
    if (names.size === 0 && !needs.camera) return null;
    const draw = (what: (camera: AnyCamera) => void) => {
      this.view.begin(size);
      what(camera);
      return this.view.grab(size);
    };
    const mattes = new Map<MatteName, Grab>();
    const all = () => {
      for (const name of names)
        mattes.set(
          name,
          draw((c) => picture.matte(name, c)),
        );
    };
    if (picture.late) picture.late(all);
    else all();
    return { mattes, picture: draw(picture.draw) };
  }
}

const mattesOf = (kept: Kept, matte: Matte): Grab => kept.mattes.get(matte.name) as Grab;
