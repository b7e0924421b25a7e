/** One drawn object a part, by what it is drawn from: made, updated where it changed, freed. */
import {
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  FrontSide,
  Group,
  Mesh,
  MeshStandardMaterial,
  type Object3D,
  type Texture,
} from 'three';
import { finishFor } from '@/core/finish';
import { SOLID_LOOK } from '@/core/piece';
import { type DrawShape, meshOf, type SolidMesh, type StagePart } from '@/core/run';
import type { SceneAssets } from './assets';
import { FaceSurface } from './facesurface';
import { FinishMaterial, type TextureOf } from './finishes';
import type { FormView } from './formview';
import { createOccluderMaterial } from './materials';
import { firstOf, ModelHolder } from './models';
import { type FacePicture, makePatch } from './patches';
import { type Filling, QuadView } from './quads';
import { SkyView } from './surroundings';

type ShapeType = DrawShape['type'];
type ShapeOf<T extends ShapeType> = Extract<DrawShape, { type: T }>;

/** What the stage keeps of one part. */
export interface DrawnPart {
  readonly type: ShapeType;
  /** What tells that it must be made anew. */
  readonly key: string;
  /** In the scene of parts; null: drawn by a pass of its own. */
  readonly object: Object3D | null;
  /** Into the depth alone, before any colour. */
  readonly occludes?: boolean;
  /** That pass. */
  readonly fills?: Filling;
  update(part: StagePart): void;
  free(): void;
}

/** Shapes and looks of solids: equal ones share theirs, and the last that goes takes its shape along. */
export class Solids {
  private readonly shapes = new Map<SolidMesh, { geometry: BufferGeometry; users: number }>();
  private readonly looks: Record<'front' | 'both', MeshStandardMaterial>;

  constructor() {
    const [r, g, b] = SOLID_LOOK.colour;
    const look = (side: typeof FrontSide | typeof DoubleSide) => {
      const material = new MeshStandardMaterial({ roughness: SOLID_LOOK.roughness, side });
      material.color.setRGB(r, g, b);
      return material;
    };
    this.looks = { front: look(FrontSide), both: look(DoubleSide) };
  }

  look(both: boolean): MeshStandardMaterial {
    return both ? this.looks.both : this.looks.front;
  }

  take(mesh: SolidMesh): BufferGeometry {
    let entry = this.shapes.get(mesh);
    if (!entry) {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
      geometry.setAttribute('normal', new BufferAttribute(mesh.normals, 3));
      geometry.setAttribute('uv', new BufferAttribute(mesh.uvs, 2));
      geometry.setIndex(new BufferAttribute(mesh.indices, 1));
      entry = { geometry, users: 0 };
      this.shapes.set(mesh, entry);
    }
    entry.users++;
    return entry.geometry;
  }

  giveBack(mesh: SolidMesh): void {
    const entry = this.shapes.get(mesh);
    if (!entry || --entry.users > 0) return;
    entry.geometry.dispose();
    this.shapes.delete(mesh);
  }

  get size(): number {
    return this.shapes.size;
  }
}

export interface PartContext {
  solids: Solids;
  assets: SceneAssets;
  form: FormView;
  face: FacePicture;
}

/** null: what it is drawn from is not at hand yet. */
type Make<T extends ShapeType> = (part: StagePart, shape: ShapeOf<T>, context: PartContext) => Omit<DrawnPart, 'key'> | null;

const place = (o: Object3D, part: StagePart) => {
  o.visible = part.shown;
  o.matrix.fromArray(part.matrix);
  o.updateMatrixWorld(true);
};

const keyOf = (shape: DrawShape): string => (shape.type === 'glb' ? `glb ${shape.model}` : shape.type);
export const keyOfPart = ({ occludes }: StagePart, shape: DrawShape): string => `${keyOf(shape)}${occludes ? ' occludes' : ''}`;

export const DRAWERS: { readonly [T in ShapeType]: Make<T> } = {
  glb: (part, shape, { assets }) => {
    const model = assets.get(shape.model);
    if (!model) return null;
    const holder = new ModelHolder(part.id, shape.model, model);
    return {
      type: 'glb',
      object: holder.holder,
      update(p) {
        holder.pose(p.shape as ShapeOf<'glb'>);
        holder.wear(p.opacity, p.solid, p.wears, picturesOf(assets), assets.version);
        place(holder.holder, p);
      },
      free: () => holder.free(),
    };
  },
  solid: (part, _, { solids, assets }) => {
    const mesh = new Mesh();
    const holder = new Group();
    holder.matrixAutoUpdate = false;
    holder.userData.part = part.id;
    mesh.matrixAutoUpdate = false;
    holder.add(mesh);
    const wears = new FinishMaterial(null);
    let made: SolidMesh | null = null;
    return {
      type: 'solid',
      object: holder,
      update(p) {
        const { solid } = p.shape as ShapeOf<'solid'>;
        const now = meshOf(solid);
        if (now !== made) {
          if (made) solids.giveBack(made);
          made = now;
          mesh.geometry = solids.take(now);
        }
        // what is open, or flat, is seen from behind too
        const finish = finishFor(p.wears, '');
        mesh.material = finish
          ? wears.of(finish, 1, false, picturesOf(assets))
          : solids.look(solid.open.length > 0 || solid.form === 'plane' || solid.form === 'disc');
        mesh.renderOrder = firstOf(mesh.material);
        place(holder, p);
      },
      free() {
        if (made) solids.giveBack(made);
        wears.free();
      },
    };
  },
  form: (_part, _, { form }) => {
    const occluder = form.occluder();
    return {
      type: 'form',
      object: occluder.mesh,
      update(p) {
        occluder.mesh.visible = p.shown;
        occluder.update(p.shape as ShapeOf<'form'>, p.matrix);
      },
      free: () => occluder.free(),
    };
  },
  face: (part, _, { form, assets }) => {
    const surface = new FaceSurface(part.id, form);
    return {
      type: 'face',
      object: surface.mesh,
      update(p) {
        const now = p.shape as ShapeOf<'face'>;
        surface.update(p, now, now.model ? firstTexture(assets.get(now.model)?.scene) : null);
      },
      free: () => surface.free(),
    };
  },
  patch: (part, _, { form, face }) => makePatch(part, form, face),
  quad: (_part, _, { assets }) => {
    const quad = new QuadView();
    return {
      type: 'quad',
      object: null,
      update(p) {
        const now = p.shape as ShapeOf<'quad'>;
        quad.update(now, p.opacity, now.model ? firstTexture(assets.get(now.model)?.scene) : null);
      },
      free: () => quad.free(),
      fills: quad,
    };
  },
  sky: (_part, _, { assets }) => {
    const sky = new SkyView();
    return {
      type: 'sky',
      object: null,
      update(p) {
        const now = p.shape as ShapeOf<'sky'>;
        sky.update(now, p.opacity, assets.sky(now.file) ?? null);
      },
      free: () => sky.free(),
      fills: sky,
    };
  },
};

/** Pictures of Stock as textures. */
export const picturesOf =
  (assets: SceneAssets): TextureOf =>
  (file) =>
    firstTexture(assets.get(file)?.scene);

/** The picture a plane of a stock picture wears. */
function firstTexture(scene: Object3D | undefined): Texture | null {
  let found: Texture | null = null;
  scene?.traverse((o) => {
    if (!found && o instanceof Mesh && !Array.isArray(o.material)) found = (o.material as MeshStandardMaterial).map ?? null;
  });
  return found;
}

export function makeDrawn(part: StagePart, shape: DrawShape, context: PartContext): DrawnPart | null {
  const drawn = (DRAWERS[shape.type] as Make<ShapeType>)(part, shape as never, context);
  if (!drawn) return null;
  const key = keyOfPart(part, shape);
  if (!part.occludes || drawn.type === 'form') return { ...drawn, key, occludes: part.occludes };
  return {
    ...drawn,
    key,
    occludes: true,
    update(p) {
      drawn.update(p);
      drawn.object?.traverse((o) => {
        if (o instanceof Mesh) o.material = DEPTH_ALONE;
      });
    },
  };
}
const DEPTH_ALONE = /* @__PURE__ */ createOccluderMaterial();
