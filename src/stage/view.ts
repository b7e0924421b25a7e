/** One WebGL context for every view: sizes, copies to the views' own canvases, grabs of what is drawn. */
import {
  CustomBlending,
  FramebufferTexture,
  LinearFilter,
  Mesh,
  NeutralToneMapping,
  OneFactor,
  OneMinusSrcAlphaFactor,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  Vector2,
  WebGLRenderer,
} from 'three';
import { screenIs } from './screen';

export interface DrawSize {
  /** CSS pixels. */
  width: number;
  height: number;
  ratio: number;
}

/** After so many looks a copy is made whatever the graphics process says. */
const MOST_WAITS = 2_000;

export const pixelsOf = ({ width, height, ratio }: DrawSize): [number, number] => [
  Math.max(1, Math.round(width * ratio)),
  Math.max(1, Math.round(height * ratio)),
];

/** A picture that was drawn, kept to be drawn again. */
export type Grab = FramebufferTexture;

export class View {
  readonly renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true, powerPreference: 'low-power' });
  readonly scratch = document.createElement('canvas');
  private readonly flat = new OrthographicCamera(-1, 1, 1, -1, 0, 1);

  constructor() {
    this.renderer.toneMapping = NeutralToneMapping;
    this.renderer.autoClear = false;
    this.renderer.setPixelRatio(1);
  }

  begin(size: DrawSize): void {
    const [w, h] = pixelsOf(size);
    const canvas = this.renderer.domElement;
    // a smaller view uses a corner: resizing the buffer for every view is slow
    if (canvas.width < w || canvas.height < h) this.renderer.setSize(Math.max(canvas.width, w), Math.max(canvas.height, h), false);
    screenIs(w, h);
    this.renderer.setViewport(0, 0, w, h);
    this.renderer.setScissor(0, 0, w, h);
    this.renderer.setScissorTest(true);
    this.renderer.setClearColor(0x000000, 0);
    this.renderer.clear();
  }

  copyTo(target: HTMLCanvasElement, size: DrawSize, alpha = 1, fresh = true): void {
    const [w, h] = pixelsOf(size);
    if (target.width !== w || target.height !== h) {
      target.width = w;
      target.height = h;
    }
    const x = target.getContext('2d');
    if (!x) return;
    if (fresh) x.clearRect(0, 0, w, h);
    x.globalAlpha = alpha;
    x.drawImage(this.renderer.domElement, 0, this.renderer.domElement.height - h, w, h, 0, 0, w, h);
    x.globalAlpha = 1;
  }

  /**
   * Copies once the graphics process is done: a copy asked for at once waits for it, and holds the page as long. Nothing else may
   * be drawn until then.
   */
  async copyWhenDone(target: HTMLCanvasElement, size: DrawSize): Promise<void> {
    const gl = this.renderer.getContext() as WebGL2RenderingContext;
    const sync = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
    if (sync) {
      for (let waited = 0; waited < MOST_WAITS && gl.getSyncParameter(sync, gl.SYNC_STATUS) !== gl.SIGNALED; waited++)
        await new Promise((r) => setTimeout(r, 4));
      gl.deleteSync(sync);
    }
    this.copyTo(target, size);
  }

  /** The alpha of one pixel of what stands in the buffer, from its lower left, 0 … 1. */
  alphaAt(x: number, y: number): number {
    const gl = this.renderer.getContext();
    const rgba = new Uint8Array(4);
    gl.readPixels(x, y, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, rgba);
    return rgba[3] / 255;
  }

  /** Keeps what stands in the buffer. Give it back with `dispose`. */
  grab(size: DrawSize): Grab {
    const [w, h] = pixelsOf(size);
    const texture = new FramebufferTexture(w, h);
    texture.minFilter = LinearFilter;
    texture.magFilter = LinearFilter;
    this.renderer.copyFramebufferToTexture(texture, new Vector2(0, 0));
    return texture;
  }

  /** Draws over the whole view with a shader of its own. */
  fill(material: ShaderMaterial): void {
    const mesh = new Mesh(FULL, material);
    mesh.frustumCulled = false;
    const scene = new Scene();
    scene.add(mesh);
    this.renderer.render(scene, this.flat);
  }

  /** Programs, textures and geometries that the graphics process holds. */
  counts(): { geometries: number; textures: number; programs: number } {
    const { memory, programs } = this.renderer.info;
    return { geometries: memory.geometries, textures: memory.textures, programs: programs?.length ?? 0 };
  }

  /** A view as PNG, for keeping. */
  toPng(draw: (canvas: HTMLCanvasElement) => void): Promise<Blob> {
    draw(this.scratch);
    return new Promise((resolve, reject) =>
      this.scratch.toBlob((b) => (b ? resolve(b) : reject(new Error('The picture could not be encoded.'))), 'image/png'),
    );
  }
}

const FULL = /* @__PURE__ */ new PlaneGeometry(2, 2);

/** A material that fills the view; colours are as they come, multiplied by their alpha. */
export const fillMaterial = (uniforms: ShaderMaterial['uniforms'], fragmentShader: string): ShaderMaterial =>
  new ShaderMaterial({
    uniforms,
    vertexShader: 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }',
    fragmentShader: `varying vec2 at;\n${fragmentShader}`,
    depthTest: false,
    depthWrite: false,
    transparent: true,
    premultipliedAlpha: true,
    blending: CustomBlending,
    blendSrc: OneFactor,
    blendDst: OneMinusSrcAlphaFactor,
    toneMapped: false,
  });
