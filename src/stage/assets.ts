/** Models and environments for drawing: parsed once by content, pinned by whoever needs them, let go beyond a budget in bytes. */
import {
  DataTexture,
  HalfFloatType,
  LinearFilter,
  LinearSRGBColorSpace,
  type Material,
  Mesh,
  RepeatWrapping,
  RGBAFormat,
  Texture,
} from 'three';
import { type DrawnModel, parseModel } from './models';

/** Light from all round, as halves of linear RGBA, rows from the zenith down. */
export interface Sky {
  width: number;
  height: number;
  data: Uint16Array;
}

export function textureOf({ width, height, data }: Sky): DataTexture {
  const texture = new DataTexture(data, width, height, RGBAFormat, HalfFloatType);
  texture.colorSpace = LinearSRGBColorSpace;
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearFilter;
  texture.wrapS = RepeatWrapping;
  texture.needsUpdate = true;
  return texture;
}

/** Bytes of files kept beyond what is pinned. What they take on the graphics side is a multiple of it. */
export const ASSET_BUDGET = 120e6;

type Thing = DrawnModel | DataTexture;
interface Kept {
  parsing: Promise<Thing>;
  thing: Thing | null;
  bytes: number;
  /** Grows with every use. */
  used: number;
}

/** Frees everything of a model that the graphics process holds. */
export function disposeModel(model: DrawnModel): void {
  const textures = new Set<Texture>();
  const rest = new Set<{ dispose: () => void }>();
  const letGo = (m: Material) => {
    for (const value of Object.values(m)) if (value instanceof Texture) textures.add(value);
    rest.add(m);
  };
  model.scene.traverse((o) => {
    if (!(o instanceof Mesh)) return;
    rest.add(o.geometry);
    for (const m of (Array.isArray(o.material) ? o.material : [o.material]) as Material[]) letGo(m);
  });
  model.variants.forEach(letGo);
  for (const r of rest) r.dispose();
  for (const t of textures) {
    t.dispose();
    (t.source?.data as ImageBitmap | undefined)?.close?.();
  }
}

export class SceneAssets {
  private readonly kept = new Map<string, Kept>();
  private readonly pins = new Map<string, ReadonlySet<string>>();
  private clock = 0;
  /** Another number whenever a model came or went. */
  version = 0;

  constructor(
    private readonly budget = ASSET_BUDGET,
    private readonly parse: (glb: ArrayBuffer) => Promise<DrawnModel> = parseModel,
  ) {}

  /** Told with the SHA-256 of what was let go. */
  onGone: (sha: string) => void = () => undefined;

  /** Parses a GLB once. */
  async add(sha: string, glb: ArrayBuffer): Promise<void> {
    let entry = this.kept.get(sha);
    if (!entry) {
      entry = { parsing: this.parse(glb), thing: null, bytes: glb.byteLength, used: ++this.clock };
      this.kept.set(sha, entry);
      entry.parsing.catch(() => this.kept.delete(sha));
    }
    entry.thing = await entry.parsing;
    this.version++;
    this.tidy();
  }

  /** An environment, once. */
  addSky(sha: string, sky: Sky): void {
    if (this.kept.has(sha)) return;
    const thing = textureOf(sky);
    this.kept.set(sha, { parsing: Promise.resolve(thing), thing, bytes: sky.data.byteLength, used: ++this.clock });
    this.version++;
    this.tidy();
  }

  get(sha: string): DrawnModel | undefined {
    const thing = this.use(sha);
    return thing instanceof DataTexture ? undefined : (thing ?? undefined);
  }

  sky(sha: string): DataTexture | undefined {
    const thing = this.use(sha);
    return thing instanceof DataTexture ? thing : undefined;
  }

  private use(sha: string): Thing | null | undefined {
    const entry = this.kept.get(sha);
    if (entry) entry.used = ++this.clock;
    return entry?.thing;
  }

  /** Says all that one holder needs from now on; an empty list lets go. */
  pin(holder: string, shas: Iterable<string>): void {
    const wanted = new Set(shas);
    if (wanted.size > 0) this.pins.set(holder, wanted);
    else this.pins.delete(holder);
    this.tidy();
  }

  /** One holder has gone, and does not come back for what it held: all that nobody else needs goes, whatever the budget. */
  leave(holder: string): void {
    this.pins.delete(holder);
    this.drop(-1, 0);
  }

  get size(): number {
    return this.kept.size;
  }

  private tidy(): void {
    // the newest stays whatever it weighs: it is being looked at
    this.drop(this.budget, 1);
  }

  /** Lets go of what is not pinned, the longest unused first. @param budget bytes that may stay, below 0 nothing; `stay`: so many of the newest stay whatever they weigh */
  private drop(budget: number, stay: 0 | 1): void {
    const pinned = new Set([...this.pins.values()].flatMap((s) => [...s]));
    const idle = [...this.kept].filter(([sha, e]) => e.thing && !pinned.has(sha)).sort((a, b) => a[1].used - b[1].used);
    let over = idle.reduce((sum, [, e]) => sum + e.bytes, 0) - budget;
    for (const [sha, e] of idle.slice(0, idle.length - stay)) {
      if (over <= 0) break;
      over -= e.bytes;
      this.kept.delete(sha);
      this.version++;
      if (e.thing instanceof DataTexture) e.thing.dispose();
      else disposeModel(e.thing as DrawnModel);
      this.onGone(sha);
    }
  }
}
