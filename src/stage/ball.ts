/** A finish as a ball, under the light of the bench. */
import { type Material, Mesh, MeshStandardMaterial, OrthographicCamera, SphereGeometry } from 'three';
import type { DrawnFinish } from '@/core/finish';
import { SOLID_LOOK } from '@/core/piece';
import { FinishMaterial, type TextureOf } from './finishes';
import { type DrawnModel, materialIn } from './models';

/** What wears it: a material of a file by its name; null: something without one. */
export interface BallOf {
  finish: DrawnFinish | null;
  material: string;
}

const SHAPE = /* @__PURE__ */ new SphereGeometry(1, 48, 32);

export class Ball {
  private readonly mesh = new Mesh(SHAPE);
  private readonly camera = new OrthographicCamera(-1.06, 1.06, 1.06, -1.06, 0.1, 10);
  private plain: MeshStandardMaterial | null = null;

  constructor() {
    this.camera.position.z = 4;
    this.camera.updateMatrixWorld(true);
  }

  /** @param model of the file whose material it is @param draw shows the ball */
  show(
    { finish, material }: BallOf,
    model: DrawnModel | undefined,
    textureOf: TextureOf,
    draw: (ball: Mesh, camera: OrthographicCamera) => void,
  ): void {
    const of = (name: string) => (model ? materialIn(model, name) : null);
    const own = of(material);
    const made = finish ? new FinishMaterial(own, of) : null;
    this.mesh.material = made && finish ? made.of(finish, 1, false, textureOf) : (own ?? this.ofSolids());
    draw(this.mesh, this.camera);
    made?.free();
  }

  private ofSolids(): Material {
    if (!this.plain) {
      this.plain = new MeshStandardMaterial({ roughness: SOLID_LOOK.roughness });
      this.plain.color.setRGB(...SOLID_LOOK.colour);
    }
    return this.plain;
  }
}
