/** Pictures and colours that fill the view, and the camera's picture again inside a matte. */
import { type Camera, Color, type ShaderMaterial, type Texture, Vector2, Vector4 } from 'three';
import type { DrawShape } from '@/core/run';
import { type DrawSize, fillMaterial, type Grab, pixelsOf, type View } from './view';

type Quad = Extract<DrawShape, { type: 'quad' }>;

/** What fills the view in a pass of its own. */
export interface Filling {
  draw(view: View, size: DrawSize, camera: Camera): void;
}

const SRGB = `vec3 toSrgb(vec3 c) { return mix(c * 12.92, 1.055 * pow(max(c, vec3(0.0)), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c)); }`;

/** A screen part: a colour, a picture on it, or both. */
export class QuadView implements Filling {
  private readonly material: ShaderMaterial;
  private picture: Texture | null = null;
  private fit: Quad['fit'] = 'cover';

  constructor() {
    this.material = fillMaterial(
      {
        map: { value: null },
        has: { value: 0 },
        scale: { value: new Vector2(1, 1) },
        ground: { value: new Vector4() },
        opacity: { value: 1 },
      },
      // the sampler decodes sRGB: written back, a picture comes out as it is
      `uniform sampler2D map; uniform float has; uniform vec2 scale; uniform vec4 ground; uniform float opacity; ${SRGB}
      void main() {
        vec4 c = vec4(ground.rgb * ground.a, ground.a);
        vec2 q = (at - 0.5) * scale + 0.5;
        if (has > 0.5 && all(greaterThanEqual(q, vec2(0.0))) && all(lessThanEqual(q, vec2(1.0)))) {
          vec4 p = texture2D(map, vec2(q.x, 1.0 - q.y));
          p.rgb = toSrgb(p.rgb);
          c = vec4(p.rgb * p.a, p.a) + c * (1.0 - p.a);
        }
        gl_FragColor = c * opacity;
      }`,
    );
  }

  update(shape: Quad, opacity: number, picture: Texture | null): void {
    const u = this.material.uniforms;
    this.picture = picture;
    this.fit = shape.fit;
    u.map.value = picture;
    u.has.value = picture ? 1 : 0;
    u.opacity.value = opacity;
    const c = new Color(shape.colour ?? '#000000').convertLinearToSRGB();
    (u.ground.value as Vector4).set(c.r, c.g, c.b, shape.colour === null ? 0 : 1);
  }

  draw(view: View, size: DrawSize): void {
    const image = this.picture?.image as { width: number; height: number } | undefined;
    const scale = this.material.uniforms.scale.value as Vector2;
    scale.set(1, 1);
    if (image?.height && this.fit !== 'stretch') {
      const [w, h] = pixelsOf(size);
      const wider = w / h / (image.width / image.height);
      // cover: the shorter way fits and the longer is cut; within: the other way round
      if (wider > 1 === (this.fit === 'cover')) scale.set(1, 1 / wider);
      else scale.set(wider, 1);
    }
    view.fill(this.material);
  }

  free(): void {
    this.material.dispose();
  }
}

/** A kept picture drawn again, paler. */
export class PalePass {
  private readonly material = fillMaterial(
    { picture: { value: null }, opacity: { value: 1 } },
    'uniform sampler2D picture; uniform float opacity; void main() { gl_FragColor = texture2D(picture, at) * opacity; }',
  );

  draw(view: View, picture: Grab, opacity: number): void {
    this.material.uniforms.picture.value = picture;
    this.material.uniforms.opacity.value = opacity;
    view.fill(this.material);
  }
}

/** How wrong a device's mattes are: real ones are soft, err at their edges, and come late. */
export interface PoorMatte {
  softPx: number;
  /** How far an edge is off at most, in waves along it. */
  errorPx: number;
  seed: number;
}

/** How long a wave of what a device errs is, px of its picture. */
const WAVE_PX = 48;

/** A kept picture drawn again, only inside a kept matte: its edge moved by `growPx`, off by what the device errs, softened. */
export class MattePass {
  private readonly grown = fillMaterial(
    {
      matte: { value: null },
      texel: { value: new Vector2() },
      grow: { value: 0 },
      error: { value: 0 },
      seed: { value: 0 },
      wave: { value: 24 },
    },
    `uniform sampler2D matte; uniform vec2 texel; uniform float grow; uniform float error; uniform float seed; uniform float wave;
    float hash(vec2 p) { return fract(sin(dot(p, vec2(127.1, 311.7)) + seed) * 43758.5453); }
    float noise(vec2 p) {
      vec2 i = floor(p); vec2 f = p - i; f = f * f * (3.0 - 2.0 * f);
      return mix(mix(hash(i), hash(i + vec2(1.0, 0.0)), f.x), mix(hash(i + vec2(0.0, 1.0)), hash(i + vec2(1.0)), f.x), f.y) * 2.0 - 1.0;
    }
    void main() {
      vec2 px = at / texel;
      vec2 off = error * vec2(noise(px / wave), noise(px / wave + 57.0));
      vec2 q = at + off * texel;
      float m = texture2D(matte, q).r;
      float r = abs(grow);
      if (r > 0.0)
        for (int ring = 1; ring <= 3; ring++)
          for (int k = 0; k < 16; k++) {
            float a = 6.2831853 * (float(k) + 0.5 * float(ring)) / 16.0;
            float v = texture2D(matte, q + vec2(cos(a), sin(a)) * r * float(ring) / 3.0 * texel).r;
            m = grow > 0.0 ? max(m, v) : min(m, v);
          }
      gl_FragColor = vec4(m, m, m, 1.0);
    }`,
  );
  private readonly material = fillMaterial(
    {
      picture: { value: null },
      matte: { value: null },
      texel: { value: new Vector2() },
      feather: { value: 0 },
      invert: { value: 0 },
    },
    `uniform sampler2D picture; uniform sampler2D matte; uniform vec2 texel; uniform float feather; uniform float invert;
    void main() {
      float m = texture2D(matte, at).r;
      if (feather > 0.0) {
        float sum = m; float weight = 1.0;
        for (int ring = 1; ring <= 3; ring++)
          for (int k = 0; k < 12; k++) {
            float a = 6.2831853 * (float(k) + 0.5 * float(ring)) / 12.0;
            float r = feather * float(ring) / 3.0;
            float w = 1.0 - 0.8 * float(ring) / 3.0;
            sum += w * texture2D(matte, at + vec2(cos(a), sin(a)) * r * texel).r; weight += w;
          }
        m = sum / weight;
      }
      gl_FragColor = texture2D(picture, at) * mix(m, 1.0 - m, invert);
    }`,
  );

  /**
   * A matte with its edge moved and as far off as a device's; the view is overwritten. null: it stays as it is.
   * @param scale px of the view to one of the camera's picture
   */
  prepare(view: View, size: DrawSize, matte: Grab, growPx: number, poor: PoorMatte | null, scale: number): Grab | null {
    if (growPx === 0 && !poor?.errorPx) return null;
    const u = this.grown.uniforms;
    const [w, h] = pixelsOf(size);
    u.matte.value = matte;
    (u.texel.value as Vector2).set(1 / w, 1 / h);
    u.grow.value = growPx * scale;
    u.error.value = (poor?.errorPx ?? 0) * scale;
    u.seed.value = poor?.seed ?? 0;
    u.wave.value = WAVE_PX * scale;
    view.begin(size);
    view.fill(this.grown);
    return view.grab(size);
  }

  /** @param feather px of the view */
  draw(view: View, size: DrawSize, picture: Texture, matte: Grab, feather: number, invert: boolean): void {
    const u = this.material.uniforms;
    const [w, h] = pixelsOf(size);
    u.picture.value = picture;
    u.matte.value = matte;
    (u.texel.value as Vector2).set(1 / w, 1 / h);
    u.feather.value = feather;
    u.invert.value = invert ? 1 : 0;
    view.fill(this.material);
  }
}

/** The mean of as many pictures of one size. */
export class MeanPass {
  static readonly STEPS = 6;
  private readonly material = fillMaterial(
    Object.fromEntries(Array.from({ length: MeanPass.STEPS }, (_, i) => [`p${i}`, { value: null }])),
    `${Array.from({ length: MeanPass.STEPS }, (_, i) => `uniform sampler2D p${i};`).join(' ')}
    void main() {
      gl_FragColor = (${Array.from({ length: MeanPass.STEPS }, (_, i) => `texture2D(p${i}, at)`).join(' + ')}) / ${MeanPass.STEPS}.0;
    }`,
  );

  draw(view: View, pictures: readonly Grab[]): void {
    pictures.forEach((p, i) => {
      this.material.uniforms[`p${i}`].value = p;
    });
    view.fill(this.material);
  }
}
