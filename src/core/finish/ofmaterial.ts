/** A file's own material as a finish that nobody has changed yet: the same look in a finish's terms, its maps its own. */
import type { ModelMaterial, MoreName } from '../model/material';
import { withExtras } from './beyond';
import { hexOf } from './colour';
import { FinishRow } from './row';
import type { Blend } from './words';

const BLEND_OF: Readonly<Record<ModelMaterial['alpha'], Blend>> = { OPAQUE: 'opaque', MASK: 'cut', BLEND: 'over' };

/** @param m null: the default that glTF gives to what has none */
export function finishOfMaterial(m: ModelMaterial | null, id: string, name: string): FinishRow {
  if (!m) return FinishRow.parse({ id, name, metal: 1, roughness: 1 });
  const number = (of: MoreName, field: string, none: number) => (m.more[of]?.[field] as number | undefined) ?? none;
  const hex = (of: MoreName, field: string, none: string) => {
    const said = m.more[of]?.[field] as readonly number[] | undefined;
    return said ? hexOf(said) : none;
  };
  // a factor over 1 is a colour and its strength
  const most = Math.max(1, ...m.emissive);
  const mm = number('volume', 'AttenuationDistance', 0) * 1000;
  const row = FinishRow.parse({
    id,
    name,
    unlit: m.more.unlit !== undefined,
    colour: hexOf(m.baseColor),
    opacity: share(m.baseColor[3]),
    metal: share(m.metallic),
    roughness: share(m.roughness),
    relief: within(m.normalScale, 0, 4),
    occlusion: share(m.occlusion),
    glow: hexOf(m.emissive.map((x) => x / most)),
    glowStrength: within(number('emissive_strength', 'EmissiveStrength', 1) * most, 0, 1000),
    clearcoat: share(number('clearcoat', 'ClearcoatFactor', 0)),
    clearcoatRoughness: share(number('clearcoat', 'ClearcoatRoughnessFactor', 0)),
    sheen: hex('sheen', 'SheenColorFactor', '#000000'),
    sheenRoughness: share(number('sheen', 'SheenRoughnessFactor', 0)),
    transmission: share(number('transmission', 'TransmissionFactor', 0)),
    ior: within(number('ior', 'IOR', 1.5), 1, 2.333),
    thicknessMm: within(number('volume', 'ThicknessFactor', 0) * 1000, 0, 10_000),
    tint: hex('volume', 'AttenuationColor', '#ffffff'),
    tintMm: mm > 0 && mm <= 100_000 ? Math.max(0.01, mm) : null,
    dispersion: within(number('dispersion', 'Dispersion', 0), 0, 20),
    specular: share(number('specular', 'SpecularFactor', 1)),
    specularColour: hex('specular', 'SpecularColorFactor', '#ffffff'),
    iridescence: share(number('iridescence', 'IridescenceFactor', 0)),
    iridescenceIor: within(number('iridescence', 'IridescenceIOR', 1.3), 1, 2.333),
    filmNm: within(number('iridescence', 'IridescenceThicknessMaximum', 400), 0, 2000),
    anisotropy: share(number('anisotropy', 'AnisotropyStrength', 0)),
    anisotropyDeg: within((number('anisotropy', 'AnisotropyRotation', 0) * 180) / Math.PI, -360, 360),
    blend: BLEND_OF[m.alpha],
    cutAt: share(m.cutoff),
    faces: m.doubleSided ? 'both' : 'front',
  });
  return withExtras(row, m.beyond);
}
const within = (x: number, least: number, most: number) => (Number.isFinite(x) ? Math.min(most, Math.max(least, x)) : least);
const share = (x: number) => within(x, 0, 1);
