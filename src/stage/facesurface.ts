/** The face surface: triangles of the form's face with a look of their own, standing off the skin by what they say and by what was sculpted. */
import { BufferAttribute, BufferGeometry, Mesh, MeshStandardMaterial, type Texture } from 'three';
import { type Form, faceIndices, growForm } from '@/core/form';
import type { DrawShape, StagePart } from '@/core/run';
import type { FormView } from './formview';

type FaceShape = Extract<DrawShape, { type: 'face' }>;

export class FaceSurface {
  readonly mesh: Mesh;
  private readonly look = new MeshStandardMaterial({
    roughness: 0.72,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -2,
  });
  /** Whether the colour is seen where the picture is clear. */
  private readonly under = { value: 0 };
  private made = '';
  private of: BufferAttribute | null = null;
  private stands = '';
  private sculpt: Float32Array | null = null;
  private version = -1;

  constructor(
    part: string,
    private readonly view: FormView,
  ) {
    this.look.onBeforeCompile = (shader) => {
      shader.uniforms.under = this.under;
      shader.fragmentShader = shader.fragmentShader.replace('#include <common>', '#include <common>\nuniform float under;').replace(
        '#include <map_fragment>',
        `#ifdef USE_MAP
          vec4 painted = texture2D(map, vMapUv);
          diffuseColor = vec4(mix(diffuseColor.rgb, painted.rgb, under > 0.5 ? painted.a : 1.0), diffuseColor.a * (under > 0.5 ? 1.0 : painted.a));
        #endif`,
      );
    };
    this.mesh = new Mesh(new BufferGeometry(), this.look);
    this.mesh.matrixAutoUpdate = false;
    this.mesh.frustumCulled = false;
    this.mesh.userData.part = part;
  }

  update({ matrix, opacity, shown }: StagePart, shape: FaceShape, picture: Texture | null): void {
    const v = this.view.vertices;
    const form = this.view.form;
    this.mesh.visible = shown && v !== null && form !== null;
    if (!v || !form) return;
    this.mesh.matrix.fromArray(matrix);
    this.mesh.updateMatrixWorld(true);
    this.wear(shape, opacity, picture);
    const body = 'headVertex' in v.skin.shape ? v.skin.shape.headVertex : null;
    const key = `${shape.covers} ${shape.holes.eyes} ${shape.holes.mouth}`;
    const anew = key !== this.made || this.of !== v.position;
    if (anew) {
      this.mesh.geometry.dispose();
      const g = new BufferGeometry();
      g.setAttribute('position', new BufferAttribute(new Float32Array(v.position.array.length), 3));
      g.setAttribute('normal', new BufferAttribute(new Float32Array(v.normal.array.length), 3));
      g.setAttribute('uv', new BufferAttribute(uvsOf(form, body), 2));
      g.setIndex(new BufferAttribute(faceIndices(v.skin.shape, shape.covers, shape.holes), 1));
      this.mesh.geometry = g;
    }
    const stands = `${shape.growMm}`;
    if (!anew && v.version === this.version && stands === this.stands && shape.sculpt === this.sculpt) return;
    const { position, normal } = this.mesh.geometry.attributes as Record<'position' | 'normal', BufferAttribute>;
    const out = position.array as Float32Array;
    growForm(v.position.array as Float32Array, v.normal.array as Float32Array, shape.growMm, 0, out);
    (normal.array as Float32Array).set(v.normal.array);
    if (shape.sculpt) standOff(out, shape.sculpt, body);
    position.needsUpdate = true;
    normal.needsUpdate = true;
    if (shape.sculpt) this.mesh.geometry.computeVertexNormals();
    this.made = key;
    this.of = v.position;
    this.stands = stands;
    this.sculpt = shape.sculpt;
    this.version = v.version;
  }

  private wear({ colour }: FaceShape, opacity: number, picture: Texture | null): void {
    const seeThrough = opacity < 1 || (picture !== null && colour === null);
    const { look } = this;
    if (look.map !== picture || look.transparent !== seeThrough) look.needsUpdate = true;
    look.map = picture;
    look.color.set(colour ?? '#ffffff');
    this.under.value = colour === null ? 0 : 1;
    look.opacity = opacity;
    look.transparent = seeThrough;
  }

  free(): void {
    this.mesh.geometry.dispose();
    this.look.dispose();
  }
}

/** Places in the texture: of a body those of its head. */
function uvsOf(form: Form, body: Int32Array | null): Float32Array {
  if (!body) return form.uvs;
  const out = new Float32Array(body.length * 2);
  body.forEach((h, v) => {
    if (h >= 0) out.set(form.uvs.subarray(h * 2, h * 2 + 2), v * 2);
  });
  return out;
}

function standOff(out: Float32Array, off: Float32Array, body: Int32Array | null): void {
  if (!body) {
    for (let i = 0; i < off.length; i++) out[i] += off[i];
    return;
  }
  body.forEach((h, v) => {
    if (h >= 0) for (let k = 0; k < 3; k++) out[v * 3 + k] += off[h * 3 + k];
  });
}
