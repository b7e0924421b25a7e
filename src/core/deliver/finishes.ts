/** A finish in glTF's words: the core model and the ratified extensions; what none of them says stands in `extras.scaphos`. */
import type { Document, Extension, ExtensionProperty, Material, Texture, TextureInfo } from '@gltf-transform/core';
import {
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsDispersion,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsIridescence,
  KHRMaterialsSheen,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRTextureTransform,
} from '@gltf-transform/extensions';
import { type Blend, beyondGltf, type FinishExtras, type FinishRow, linearOf, type MapRole, type MapSet } from '../finish';

/** The nearest plain meaning of each blend. */
const ALPHA: Readonly<Record<Blend, 'OPAQUE' | 'MASK' | 'BLEND'>> = {
  opaque: 'OPAQUE',
  cut: 'MASK',
  over: 'BLEND',
  add: 'BLEND',
  multiply: 'BLEND',
  screen: 'BLEND',
};
interface RoleWriter {
  set: (m: Material, t: Texture | null) => unknown;
  info: (m: Material) => TextureInfo | null;
}
/** Roles that glTF has; of opacity it knows the base colour's alpha alone. */
const ROLES: Readonly<Record<Exclude<MapRole, 'opacity'>, RoleWriter>> = {
  base: { set: (m, t) => m.setBaseColorTexture(t), info: (m) => m.getBaseColorTextureInfo() },
  metalRough: { set: (m, t) => m.setMetallicRoughnessTexture(t), info: (m) => m.getMetallicRoughnessTextureInfo() },
  normal: { set: (m, t) => m.setNormalTexture(t), info: (m) => m.getNormalTextureInfo() },
  occlusion: { set: (m, t) => m.setOcclusionTexture(t), info: (m) => m.getOcclusionTextureInfo() },
  glow: { set: (m, t) => m.setEmissiveTexture(t), info: (m) => m.getEmissiveTextureInfo() },
};
/** The texture of a picture of Stock in the document under way. */
export type PictureOf = (stockId: string) => Texture;
const NO_PICTURES: PictureOf = (id) => {
  throw new Error(`${id}: no picture was opened`);
};

function writeMap(target: Document, m: Material, { set, info }: RoleWriter, map: MapSet, pictureOf: PictureOf): void {
  set(m, pictureOf(map.stock));
  const how = info(m) as TextureInfo;
  how
    .setTexCoord(map.uv === 'screen' ? 0 : map.uv)
    .setWrapS(REPEAT)
    .setWrapT(REPEAT);
  const plain = map.turnDeg === 0 && map.offset.every((x) => x === 0) && map.repeat.every((x) => x === 1);
  const moved = target.createExtension(KHRTextureTransform).createTransform();
  moved
    .setOffset(map.offset)
    .setScale(map.repeat)
    .setRotation((map.turnDeg * Math.PI) / 180);
  how.setExtension('KHR_texture_transform', plain ? null : moved);
  if (plain) moved.dispose();
}
const REPEAT = 10497;

interface Making<P extends ExtensionProperty> {
  extension: new (document: Document) => Extension;
  /** Whether a finish needs it. */
  needed: (f: FinishRow) => boolean;
  make: (extension: never) => P;
  put: (property: P, f: FinishRow) => unknown;
}
const making = <E extends Extension, P extends ExtensionProperty>(m: {
  extension: new (document: Document) => E;
  needed: (f: FinishRow) => boolean;
  make: (extension: E) => P;
  put: (property: P, f: FinishRow) => unknown;
}): Making<ExtensionProperty> => m as unknown as Making<ExtensionProperty>;

const glass = (f: FinishRow) => f.transmission > 0;
const MAKING: Readonly<Record<string, Making<ExtensionProperty>>> = {
  KHR_materials_unlit: making({
    extension: KHRMaterialsUnlit,
    needed: (f) => f.unlit,
    make: (e) => e.createUnlit(),
    put: () => undefined,
  }),
  KHR_materials_emissive_strength: making({
    extension: KHRMaterialsEmissiveStrength,
    needed: (f) => f.glowStrength !== 1 && f.glow !== '#000000',
    make: (e) => e.createEmissiveStrength(),
    put: (p, f) => p.setEmissiveStrength(f.glowStrength),
  }),
  KHR_materials_clearcoat: making({
    extension: KHRMaterialsClearcoat,
    needed: (f) => f.clearcoat > 0,
    make: (e) => e.createClearcoat(),
    put: (p, f) => p.setClearcoatFactor(f.clearcoat).setClearcoatRoughnessFactor(f.clearcoatRoughness),
  }),
  KHR_materials_sheen: making({
    extension: KHRMaterialsSheen,
    needed: (f) => f.sheen !== '#000000',
    make: (e) => e.createSheen(),
    put: (p, f) => p.setSheenColorFactor(linearOf(f.sheen)).setSheenRoughnessFactor(f.sheenRoughness),
  }),
  KHR_materials_transmission: making({
    extension: KHRMaterialsTransmission,
    needed: glass,
    make: (e) => e.createTransmission(),
    put: (p, f) => p.setTransmissionFactor(f.transmission),
  }),
  KHR_materials_volume: making({
    extension: KHRMaterialsVolume,
    needed: (f) => glass(f) && f.thicknessMm > 0,
    make: (e) => e.createVolume(),
    put: (p, f) => {
      p.setThicknessFactor(f.thicknessMm / 1000).setAttenuationColor(linearOf(f.tint));
      p.setAttenuationDistance(f.tintMm === null ? Number.POSITIVE_INFINITY : f.tintMm / 1000);
    },
  }),
  KHR_materials_ior: making({
    extension: KHRMaterialsIOR,
    needed: (f) => f.ior !== 1.5,
    make: (e) => e.createIOR(),
    put: (p, f) => p.setIOR(f.ior),
  }),
  KHR_materials_dispersion: making({
    extension: KHRMaterialsDispersion,
    needed: (f) => glass(f) && f.dispersion > 0,
    make: (e) => e.createDispersion(),
    put: (p, f) => p.setDispersion(f.dispersion),
  }),
  KHR_materials_specular: making({
    extension: KHRMaterialsSpecular,
    needed: (f) => f.specular !== 1 || f.specularColour !== '#ffffff',
    make: (e) => e.createSpecular(),
    put: (p, f) => p.setSpecularFactor(f.specular).setSpecularColorFactor(linearOf(f.specularColour)),
  }),
  KHR_materials_iridescence: making({
    extension: KHRMaterialsIridescence,
    needed: (f) => f.iridescence > 0,
    make: (e) => e.createIridescence(),
    put: (p, f) => p.setIridescenceFactor(f.iridescence).setIridescenceIOR(f.iridescenceIor).setIridescenceThicknessMaximum(f.filmNm),
  }),
  KHR_materials_anisotropy: making({
    extension: KHRMaterialsAnisotropy,
    needed: (f) => f.anisotropy > 0,
    make: (e) => e.createAnisotropy(),
    put: (p, f) => p.setAnisotropyStrength(f.anisotropy).setAnisotropyRotation((f.anisotropyDeg * Math.PI) / 180),
  }),
};

/** Writes a finish over a material; textures of roles it takes from there stay. */
export function writeFinish(target: Document, m: Material, f: FinishRow, pictureOf: PictureOf = NO_PICTURES): Material {
  m.setName(f.name)
    .setBaseColorFactor([...linearOf(f.colour), f.opacity])
    .setMetallicFactor(f.metal)
    .setRoughnessFactor(f.roughness)
    .setNormalScale(f.relief)
    .setOcclusionStrength(f.occlusion)
    .setEmissiveFactor(linearOf(f.glow))
    .setAlphaMode(ALPHA[f.blend])
    .setAlphaCutoff(f.cutAt)
    .setDoubleSided(f.faces !== 'front');
  for (const [role, writer] of Object.entries(ROLES) as [keyof typeof ROLES, RoleWriter][]) {
    const use = f.maps[role];
    if (use === null) writer.set(m, null);
    else if (use !== 'own') writeMap(target, m, writer, use, pictureOf);
  }
  // what is no surface has nothing to be seen in a viewer that does not know it
  if (f.kind !== 'surface') m.setAlpha(0).setAlphaMode('MASK').setAlphaCutoff(0.5);
  for (const [name, { extension, needed, make, put }] of Object.entries(MAKING)) {
    if (!needed(f)) {
      m.setExtension(name, null);
      continue;
    }
    // what is there keeps the textures of its own
    const property = m.getExtension(name) ?? make(target.createExtension(extension as never) as never);
    put(property as never, f);
    m.setExtension(name, property as never);
  }
  const { scaphos: _, ...others } = m.getExtras() as Record<string, unknown>;
  const beyond = beyondGltf(f);
  return m.setExtras(beyond ? { ...others, scaphos: beyond } : others);
}

/** Whether a material is of something to be seen in a viewer that knows nothing of `extras.scaphos`. */
export const isSurface = (m: Material): boolean => (m.getExtras().scaphos as FinishExtras | undefined)?.kind === undefined;
