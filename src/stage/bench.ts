/** The bench: models and measured surfaces on the turntable, apart from any piece. */
import { type Camera, type Material, type Object3D, Scene } from 'three';
import type { SceneAssets } from './assets';
import { LitScene } from './light';
import type { DrawnModel } from './models';
import { type HeatSurface, type OnTable, Table, type TableDab, type TableLook, type TableView } from './table';
import type { DrawSize, View } from './view';

/** What one view of the turntable shows. */
export interface TableShow {
  /** Drawn, in this order; seen by the camera that frames `frame`. */
  items: readonly OnTable[];
  /** null: what is measured, `heat`. */
  frame: OnTable | null;
  view: TableView;
  look: TableLook;
  /** Of the edges of triangles; left out, dark. */
  ink?: string;
  heat?: HeatSurface;
  dabs?: { list: readonly TableDab[]; color: string };
}

export class Bench {
  private readonly scene = new Scene();
  /** The fitting light, but for what is shown under a piece's own. */
  readonly lit = new LitScene(this.scene);

  constructor(
    private readonly view: View,
    private readonly assets: SceneAssets,
    private readonly bare: Material,
  ) {}

  /** A table with what is shown on it; null where a model is not parsed yet, or nothing is there to frame. */
  private lay({ items, frame, view, look, ink = '#14283a', heat, dabs }: TableShow): Table | null {
    const framed = frame && this.assets.get(frame.sha);
    const models = items.map((i) => this.assets.get(i.sha));
    if ((frame && !framed) || models.some((m) => !m)) return null;
    const table = new Table(view);
    if (!(frame && framed ? table.frame(frame, framed) : heat && table.frameHeat(heat))) return null;
    items.forEach((item, i) => {
      table.put(item, models[i] as DrawnModel, look, this.bare, ink);
    });
    if (heat) table.putHeat(heat, ink);
    if (dabs) table.putDabs(dabs.list, dabs.color);
    return table;
  }

  draw(target: HTMLCanvasElement, size: DrawSize, show: TableShow): boolean {
    const table = this.lay(show);
    if (!table) return false;
    this.alone(table.group, table.camera(size.width / size.height), size);
    table.dispose();
    this.view.copyTo(target, size);
    return true;
  }

  pick(size: DrawSize, show: TableShow, x: number, y: number): [number, number, number] | null {
    const table = this.lay(show);
    const at = table?.pick(size.width / size.height, x, y) ?? null;
    table?.dispose();
    return at;
  }

  marks(size: DrawSize, show: TableShow, places: ArrayLike<number>): Float64Array | null {
    const table = this.lay(show);
    const at = table?.marks(size.width / size.height, places) ?? null;
    table?.dispose();
    return at;
  }

  /** One object under the bench's light. */
  alone(object: Object3D, camera: Camera, size: DrawSize): void {
    this.scene.add(object);
    this.view.begin(size);
    this.view.renderer.render(this.scene, camera);
    this.scene.remove(object);
  }
}
