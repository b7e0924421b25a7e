/** Materials of finishes: made once for a material that wears one, and changed in place, so that no program is compiled for another number. */
import {
  AdditiveBlending,
  BackSide,
  type BlendingDstFactor,
  type BlendingSrcFactor,
  CustomBlending,
  DoubleSide,
  DstColorFactor,
  FrontSide,
  type Material,
  MeshBasicMaterial,
  MeshPhysicalMaterial,
  MeshStandardMaterial,
  NoColorSpace,
  NormalBlending,
  OneFactor,
  OneMinusSrcAlphaFactor,
  OneMinusSrcColorFactor,
  RepeatWrapping,
  SRGBColorSpace,
  SrcAlphaFactor,
  type Texture,
} from 'three';
import {
  BLEND_WAYS,
  type BlendWay,
  COLOUR_ROLES,
  type DrawnFinish,
  type DrawnMap,
  type Faces,
  type FinishRow,
  type MapRole,
  writesDepth,
} from '@/core/finish';
import { matteKey, readScreen, screenFeatures } from './screen';

const SIDES = { front: FrontSide, back: BackSide, both: DoubleSide } as const satisfies Record<Faces, number>;
const FACTORS: Readonly<Record<BlendWay['source'], number>> = {
  one: OneFactor,
  alpha: SrcAlphaFactor,
  dstColour: DstColorFactor,
  oneLessAlpha: OneMinusSrcAlphaFactor,
  oneLessColour: OneMinusSrcColorFactor,
};
const BASIC: Readonly<Partial<Record<FinishRow['blend'], typeof NormalBlending | typeof AdditiveBlending>>> = {
  over: NormalBlending,
  add: AdditiveBlending,
};

/** What a material has in a role, of all that a file's may have. */
const MAPS: Readonly<Record<MapRole, readonly string[]>> = {
  base: ['map'],
  metalRough: ['metalnessMap', 'roughnessMap'],
  normal: ['normalMap'],
  occlusion: ['aoMap'],
  glow: ['emissiveMap'],
  opacity: ['alphaMap'],
};
const CARRIED = ['vertexColors', 'flatShading'] as const;

type Lit = MeshPhysicalMaterial;

/** The texture of a picture's GLB; null: it is not at hand. */
export type TextureOf = (file: string) => Texture | null;
const NO_PICTURES: TextureOf = () => null;

/** What a material has in a role; null: nothing. */
export function mapOf(material: Material | null, role: MapRole): Texture | null {
  for (const name of MAPS[role]) {
    const map = (material as unknown as Record<string, unknown> | null)?.[name];
    if (map) return map as Texture;
  }
  return null;
}

/** Whether a finish has a picture of Stock, which may come later. */
export const hasPictures = (f: DrawnFinish | null): boolean => Object.values(f?.maps ?? {}).some((use) => use !== null && use !== 'own');

/** A picture in a role: the upload is the source's, once. */
class RoleMap {
  texture: Texture | null = null;
  private of: Texture | null = null;

  constructor(private readonly role: MapRole) {}

  set({ uv, offset, repeat, turnDeg, file }: Exclude<DrawnMap, 'own' | null>, textureOf: TextureOf): Texture | null {
    const source = file === null ? null : textureOf(file);
    if (source !== this.of) {
      this.free();
      this.of = source;
      this.texture = source?.clone() ?? null;
    }
    const { texture } = this;
    if (!texture) return null;
    texture.colorSpace = COLOUR_ROLES.has(this.role) ? SRGBColorSpace : NoColorSpace;
    texture.wrapS = texture.wrapT = RepeatWrapping;
    texture.channel = uv === 'screen' ? 0 : uv;
    texture.offset.fromArray(offset);
    texture.repeat.fromArray(repeat);
    texture.rotation = (turnDeg * Math.PI) / 180;
    return texture;
  }

  free(): void {
    this.texture?.dispose();
    this.texture = null;
    this.of = null;
  }
}

/** A material of a file by its name. */
export type MaterialOf = (name: string) => Material | null;
const NO_OTHERS: MaterialOf = () => null;

/** A material for what wears a finish. @param original of the file; null: what is drawn has none of its own @param others of the same file */
export class FinishMaterial {
  private made: Lit | MeshBasicMaterial | null = null;
  private from: DrawnFinish | null = null;
  private readonly roles = new Map<MapRole, RoleMap>();
  private opacity = 1;
  private solid = false;
  /** What a program depends on. */
  private features = '';

  constructor(
    private readonly original: Material | null,
    private readonly others: MaterialOf = NO_OTHERS,
  ) {}

  /** The material as a finish has it; the same one as long as it stays lit or unlit. */
  of(finish: DrawnFinish, opacity = 1, solid = false, textureOf: TextureOf = NO_PICTURES): Material {
    const basic = finish.unlit || finish.kind !== 'surface';
    const fresh = !this.made || this.made instanceof MeshBasicMaterial !== basic;
    if (fresh) {
      this.made?.dispose();
      // what shows its colour as it is, is not toned with the light either
      this.made = basic ? new MeshBasicMaterial({ toneMapped: false }) : new MeshPhysicalMaterial();
      this.made.onBeforeCompile = (shader) => this.from && readScreen(this.from, shader);
      this.made.customProgramCacheKey = () => (this.from ? screenFeatures(this.from) : '');
      this.from = null;
    }
    const material = this.made as Lit | MeshBasicMaterial;
    // a picture may have come since
    if (!hasPictures(finish) && this.from === finish && this.opacity === opacity && this.solid === solid) return material;
    [this.from, this.opacity, this.solid] = [finish, opacity, solid];
    this.carry(material, finish, textureOf);
    common(material, finish, opacity, solid);
    if (material instanceof MeshPhysicalMaterial) lit(material, finish);
    const now = `${featuresOf(material)} ${screenFeatures(finish)} ${finish.matte ? matteKey(finish.matte) : ''}`;
    if (now !== this.features) material.needsUpdate = true;
    this.features = now;
    return material;
  }

  /** What a finish takes from the material that wears it. */
  private carry(material: Lit | MeshBasicMaterial, { maps, ownOf }: DrawnFinish, textureOf: TextureOf): void {
    const original = ownOf === null ? this.original : this.others(ownOf);
    const own = (original ?? {}) as Record<string, unknown>;
    const to = material as unknown as Record<string, unknown>;
    for (const name of CARRIED) if (name in to && own[name] !== undefined) to[name] = own[name];
    for (const [role, names] of Object.entries(MAPS) as [MapRole, readonly string[]][])
      for (const name of names)
        if (name in to)
          to[name] = maps[role] === 'own' ? ((own[name] as Texture | undefined) ?? null) : this.picture(role, maps[role], textureOf);
    if (material instanceof MeshPhysicalMaterial && original instanceof MeshStandardMaterial)
      material.normalScale.set(Math.sign(original.normalScale.x) || 1, Math.sign(original.normalScale.y) || 1);
  }

  private picture(role: MapRole, use: Exclude<DrawnMap, 'own'>, textureOf: TextureOf): Texture | null {
    if (!use) {
      this.roles.get(role)?.free();
      return null;
    }
    const map = this.roles.get(role) ?? new RoleMap(role);
    this.roles.set(role, map);
    return map.set(use, textureOf);
  }

  free(): void {
    for (const map of this.roles.values()) map.free();
    this.made?.dispose();
    this.made = null;
  }
}

function common(m: Lit | MeshBasicMaterial, f: DrawnFinish, opacity: number, solid: boolean): void {
  const { blend } = f;
  const way = solid || f.kind === 'occluder' ? null : BLEND_WAYS[blend];
  // what hides is drawn before what it hides
  m.colorWrite = f.kind !== 'occluder';
  m.userData.first = f.kind === 'occluder';
  m.color.set(f.kind === 'patch' ? '#ffffff' : f.colour);
  m.side = SIDES[f.faces];
  m.depthTest = f.depthTest;
  m.opacity = (way || (blend === 'cut' && !solid) ? f.opacity : 1) * opacity;
  m.alphaTest = blend === 'cut' && !solid ? Math.max(f.cutAt * opacity, 1e-4) : 0;
  m.transparent = way !== null || opacity < 1;
  m.depthWrite = way ? writesDepth(f) : (f.depthWrite ?? true);
  m.premultipliedAlpha = way?.premultiplied ?? false;
  m.blending = BASIC[blend] ?? (way ? CustomBlending : NormalBlending);
  if (solid) m.blending = NormalBlending;
  if (!way || m.blending !== CustomBlending) return;
  m.blendSrc = FACTORS[way.source] as BlendingSrcFactor;
  m.blendDst = FACTORS[way.backdrop] as BlendingDstFactor;
  // the picture's own alpha grows as it does under “over”
  m.blendSrcAlpha = OneFactor;
  m.blendDstAlpha = OneMinusSrcAlphaFactor;
}

function lit(m: Lit, f: DrawnFinish): void {
  m.metalness = f.metal;
  m.roughness = f.roughness;
  // its signs say which way the map's second axis goes
  m.normalScale.set(Math.sign(m.normalScale.x) || 1, Math.sign(m.normalScale.y) || 1).multiplyScalar(f.relief);
  m.aoMapIntensity = f.occlusion;
  m.emissive.set(f.glow);
  m.emissiveIntensity = f.glowStrength;
  m.clearcoat = f.clearcoat;
  m.clearcoatRoughness = f.clearcoatRoughness;
  m.sheen = f.sheen === '#000000' ? 0 : 1;
  m.sheenColor.set(f.sheen);
  m.sheenRoughness = f.sheenRoughness;
  m.transmission = f.transmission;
  m.ior = f.ior;
  m.thickness = f.thicknessMm / 1000;
  m.attenuationColor.set(f.tint);
  m.attenuationDistance = f.tintMm === null ? Number.POSITIVE_INFINITY : f.tintMm / 1000;
  m.dispersion = f.dispersion;
  m.specularIntensity = f.specular;
  m.specularColor.set(f.specularColour);
  m.iridescence = f.iridescence;
  m.iridescenceIOR = f.iridescenceIor;
  m.iridescenceThicknessMaximum = f.filmNm;
  m.anisotropy = f.anisotropy;
  m.anisotropyRotation = (f.anisotropyDeg * Math.PI) / 180;
}

/** All of it that another program is compiled for. */
function featuresOf(m: Lit | MeshBasicMaterial): string {
  const maps = Object.values(MAPS)
    .flat()
    .map((name) => ((m as unknown as Record<string, unknown>)[name] ? name : ''));
  const more =
    m instanceof MeshPhysicalMaterial
      ? [m.clearcoat > 0, m.sheen > 0, m.transmission > 0, m.dispersion > 0, m.iridescence > 0, m.anisotropy > 0]
      : [];
  return [m.transparent, m.alphaTest > 0, m.side, m.premultipliedAlpha, m.blending === NormalBlending, ...maps, ...more].join();
}
