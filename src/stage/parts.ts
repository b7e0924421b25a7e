/** One drawn object a part, by what it is drawn from: made, updated where it changed, freed. */
import { BufferAttribute, BufferGeometry, Group, Mesh, MeshStandardMaterial, type Object3D, type Texture } from 'three';
import { SOLID_LOOK } from '@/core/piece';
import { type DrawShape, meshOf, type StagePart } from '@/core/run';
import type { SceneAssets } from './assets';
import type { FormView } from './formview';
import { ModelHolder } from './models';
import { QuadView } from './quads';

type ShapeType = DrawShape['type'];
type ShapeOf<T extends ShapeType> = Extract<DrawShape, { type: T }>;

/** What the stage keeps of one part. */
export interface DrawnPart {
  readonly type: ShapeType;
  /** What tells that it must be made anew. */
  readonly key: string;
  /** In the scene of parts; null: drawn by a pass of its own. */
  readonly object: Object3D | null;
  update(part: StagePart): void;
  free(): void;
}

export interface PartContext {
  assets: SceneAssets;
  form: FormView;
}

/** null: what it is drawn from is not at hand yet. */
type Make<T extends ShapeType> = (part: StagePart, shape: ShapeOf<T>, context: PartContext) => DrawnPart | null;

const place = (o: Object3D, part: StagePart) => {
  o.visible = part.shown;
  o.matrix.fromArray(part.matrix);
  o.updateMatrixWorld(true);
};

export const keyOf = (shape: DrawShape): string => (shape.type === 'glb' ? `glb ${shape.model}` : shape.type);

export const DRAWERS: { readonly [T in ShapeType]: Make<T> } = {
  glb: (part, shape, { assets }) => {
    const model = assets.get(shape.model);
    if (!model) return null;
    const holder = new ModelHolder(part.id, shape.model, model);
    return {
      type: 'glb',
      key: keyOf(shape),
      object: holder.holder,
      update(p) {
        holder.pose(p.shape as ShapeOf<'glb'>);
        holder.wear(p.opacity, p.solid);
        place(holder.holder, p);
      },
      free: () => holder.free(),
    };
  },
  solid: (part, shape) => {
    const [r, g, b] = SOLID_LOOK.colour;
    const material = new MeshStandardMaterial({ roughness: SOLID_LOOK.roughness });
    material.color.setRGB(r, g, b);
    const mesh = new Mesh(new BufferGeometry(), material);
    const holder = new Group();
    holder.matrixAutoUpdate = false;
    holder.userData.part = part.id;
    holder.add(mesh);
    let made: unknown = null;
    return {
      type: 'solid',
      key: keyOf(shape),
      object: holder,
      update(p) {
        const { solid } = p.shape as ShapeOf<'solid'>;
        if (solid !== made) {
          made = solid;
          const { positions, normals, uvs, indices } = meshOf(solid);
          mesh.geometry.dispose();
          mesh.geometry = new BufferGeometry();
          mesh.geometry.setAttribute('position', new BufferAttribute(positions, 3));
          mesh.geometry.setAttribute('normal', new BufferAttribute(normals, 3));
          mesh.geometry.setAttribute('uv', new BufferAttribute(uvs, 2));
          mesh.geometry.setIndex(new BufferAttribute(indices, 1));
          // what is open, or flat, is seen from behind too
          material.side = solid.open.length > 0 || solid.form === 'plane' || solid.form === 'disc' ? 2 : 0;
        }
        place(holder, p);
      },
      free() {
        mesh.geometry.dispose();
        material.dispose();
      },
    };
  },
  form: (_, shape, { form }) => {
    const occluder = form.occluder();
    return {
      type: 'form',
      key: keyOf(shape),
      object: occluder.mesh,
      update(p) {
        occluder.mesh.visible = p.shown;
        occluder.update(p.shape as ShapeOf<'form'>, p.matrix);
      },
      free: () => occluder.free(),
    };
  },
  quad: (_, shape, { assets }) => {
    const quad = new QuadView();
    return {
      type: 'quad',
      key: keyOf(shape),
      object: null,
      update(p) {
        const now = p.shape as ShapeOf<'quad'>;
        quad.update(now, p.opacity, now.model ? firstTexture(assets.get(now.model)?.scene) : null);
      },
      free: () => quad.free(),
      quad,
    } as DrawnPart & { quad: QuadView };
  },
};

/** The picture a plane of a stock picture wears. */
function firstTexture(scene: Object3D | undefined): Texture | null {
  let found: Texture | null = null;
  scene?.traverse((o) => {
    if (!found && o instanceof Mesh && !Array.isArray(o.material)) found = (o.material as MeshStandardMaterial).map ?? null;
  });
  return found;
}

export const makeDrawn = (part: StagePart, shape: DrawShape, context: PartContext): DrawnPart | null =>
  (DRAWERS[shape.type] as Make<ShapeType>)(part, shape as never, context);
