/** Environments as the camera sees them: as a screen that is a part, and behind the wearer. */
import { type Camera, type DataTexture, Matrix4, type Texture } from 'three';
import type { DrawShape } from '@/core/run';
import type { Filling } from './quads';
import { type DrawSize, fillMaterial, type View } from './view';

type SkyShape = Extract<DrawShape, { type: 'sky' }>;

/** The direction that a place of the view looks in. */
const LOOK = `vec3 look() {
  vec4 a = far * vec4(at * 2.0 - 1.0, -1.0, 1.0);
  vec4 b = far * vec4(at * 2.0 - 1.0, 1.0, 1.0);
  return normalize(b.xyz / b.w - a.xyz / a.w);
}`;

/** A part: an environment as the camera sees it all round; its light is brought into the picture as that of parts is. */
export class SkyView implements Filling {
  private readonly material = fillMaterial(
    { map: { value: null }, far: { value: new Matrix4() }, turn: { value: 0 }, gain: { value: 1 }, opacity: { value: 1 } },
    `uniform sampler2D map; uniform mat4 far; uniform float turn; uniform float gain; uniform float opacity;
    ${LOOK}
    void main() {
      vec3 d = look();
      vec2 q = vec2((atan(d.x, d.z) - turn) / 6.283185307 + 0.5, acos(clamp(d.y, -1.0, 1.0)) / 3.141592654);
      gl_FragColor = vec4(texture2D(map, q).rgb * gain, 1.0);
      #include <tonemapping_fragment>
      #include <colorspace_fragment>
      gl_FragColor *= opacity;
    }`,
  );

  constructor() {
    this.material.toneMapped = true;
  }

  update(shape: SkyShape, opacity: number, sky: DataTexture | null): void {
    const u = this.material.uniforms;
    u.map.value = sky;
    u.turn.value = shape.turnRad;
    u.gain.value = 2 ** shape.exposureEv;
    u.opacity.value = opacity;
  }

  draw(view: View, _: DrawSize, camera: Camera): void {
    const u = this.material.uniforms;
    if (!u.map.value) return;
    (u.far.value as Matrix4).multiplyMatrices(camera.matrixWorld, camera.projectionMatrixInverse);
    view.fill(this.material);
  }

  free(): void {
    this.material.dispose();
  }
}

/** What stands behind the wearer: an environment, sharp or blurred as a surface so rough mirrors it; and where it is sky. */
export class Surroundings {
  private readonly uniforms = {
    far: { value: new Matrix4() },
    turn: { value: 0 },
    gain: { value: 1 },
    rough: { value: 0 },
    last: { value: 0 },
    sharp: { value: null as Texture | null },
    mirrored: { value: null as Texture | null },
  };
  private readonly picture = fillMaterial(
    this.uniforms,
    `uniform mat4 far; uniform float turn; uniform float gain; uniform float rough; uniform float last; uniform sampler2D sharp; uniform samplerCube mirrored;
    ${LOOK}
    void main() {
      vec3 d = look();
      float lon = atan(d.x, d.z) - turn;
      vec3 c = texture2D(sharp, vec2(lon / 6.283185307 + 0.5, acos(clamp(d.y, -1.0, 1.0)) / 3.141592654)).rgb;
      if (rough > 0.0) {
        float flat_ = length(d.xz);
        c = textureLod(mirrored, vec3(-sin(lon) * flat_, d.y, cos(lon) * flat_), last * rough * (2.0 - rough)).rgb;
      }
      gl_FragColor = vec4(c * gain, 1.0);
      #include <tonemapping_fragment>
      #include <colorspace_fragment>
    }`,
  );
  private readonly above = fillMaterial(
    { far: this.uniforms.far },
    `uniform mat4 far; ${LOOK} void main() { gl_FragColor = vec4(vec3(step(0.0, look().y)), 1.0); }`,
  );

  constructor() {
    this.picture.toneMapped = true;
  }

  set({ mirrored, sky }: { mirrored: Texture; sky: Texture }, light: { turnRad: number; strength: number; blur: number }): void {
    const u = this.uniforms;
    u.sharp.value = sky;
    u.mirrored.value = mirrored;
    u.last.value = ((mirrored.image as { mipmaps: unknown[] }[])[0]?.mipmaps.length ?? 1) - 1;
    u.turn.value = light.turnRad;
    u.gain.value = light.strength;
    u.rough.value = light.blur;
  }

  draw(view: View, camera: Camera): void {
    this.aim(camera);
    view.fill(this.picture);
  }

  /** White above the horizon. */
  drawSky(view: View, camera: Camera): void {
    this.aim(camera);
    view.fill(this.above);
  }

  private aim(camera: Camera): void {
    this.uniforms.far.value.multiplyMatrices(camera.matrixWorld, camera.projectionMatrixInverse);
  }
}
