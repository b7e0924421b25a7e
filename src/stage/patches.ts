/** Live patches: the camera's picture of the wearer's face, drawn once a frame, and the grids that show regions of it. */
import { BufferAttribute, BufferGeometry, Group, Matrix4, Mesh, type PerspectiveCamera, ShaderMaterial, type Texture } from 'three';
import { PATCH_GRID, PATCH_SPREAD, type PatchMesh, type StagePart } from '@/core/run';
import type { FormView } from './formview';
import type { DrawnPart } from './parts';

/** The camera's picture of who is there, shared by all patches of a view. */
export class FacePicture {
  readonly picture: { value: Texture | null } = { value: null };
  /** From the head's frame to the picture's clip space. */
  readonly fromHead = { value: new Matrix4() };

  set(texture: Texture, camera: PerspectiveCamera, head: readonly number[]): void {
    this.picture.value = texture;
    this.fromHead.value
      .multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse)
      .multiply(new Matrix4().fromArray(head as number[]));
  }

  free(): void {
    this.picture.value?.dispose();
    this.picture.value = null;
  }
}

export function makePatch(part: StagePart, form: FormView, face: FacePicture): DrawnPart {
  const material = new ShaderMaterial({
    uniforms: { picture: face.picture, fromHead: face.fromHead, feather: { value: 0 } },
    vertexShader: `attribute vec3 face; attribute vec2 spread; uniform mat4 fromHead; varying vec2 at; varying vec2 off;
      void main() {
        vec4 seen = fromHead * vec4(face, 1.0);
        at = seen.xy / seen.w * 0.5 + 0.5; off = spread;
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
      }`,
    fragmentShader: `uniform sampler2D picture; uniform float feather; varying vec2 at; varying vec2 off;
      void main() {
        if (any(lessThan(at, vec2(0.0))) || any(greaterThan(at, vec2(1.0)))) discard;
        float alpha = 1.0 - smoothstep(1.0 - max(feather, 0.02), 1.0, length(off));
        if (alpha <= 0.0) discard;
        gl_FragColor = vec4(texture2D(picture, at).rgb, alpha);
      }`,
    transparent: true,
    depthWrite: false,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -2,
    toneMapped: false,
  });
  const geometry = new BufferGeometry();
  geometry.setAttribute('spread', new BufferAttribute(PATCH_SPREAD, 2));
  const mesh = new Mesh(geometry, material);
  mesh.matrixAutoUpdate = false;
  mesh.frustumCulled = false;
  const holder = new Group();
  holder.matrixAutoUpdate = false;
  holder.userData.part = part.id;
  holder.add(mesh);
  let made: PatchMesh | null = null;
  let shows: Float32Array | null = null;
  return {
    type: 'patch',
    key: 'patch',
    object: holder,
    update(p) {
      if (p.shape?.type !== 'patch') return;
      const { mesh: now, region, feather } = p.shape;
      material.uniforms.feather.value = feather;
      if (now !== made) {
        geometry.setAttribute('position', new BufferAttribute(now.positions, 3));
        geometry.setIndex(new BufferAttribute(now.triangles, 1));
        made = now;
      }
      const places = form.windowPlaces(region, PATCH_GRID);
      if (places && places !== shows) geometry.setAttribute('face', new BufferAttribute(places, 3));
      shows = places;
      holder.visible = p.shown && shows !== null;
      holder.matrix.fromArray(p.matrix);
      holder.updateMatrixWorld(true);
    },
    free() {
      geometry.dispose();
      material.dispose();
    },
  };
}
