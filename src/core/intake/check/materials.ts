/** Materials that repeat, blend without need, or are lit where they should not be. */
import type { Material } from '@gltf-transform/core';
import type { Finding } from '../findings';
import { type CheckContext, count, finding, mend, placedPrimitives, some } from './context';
import { EPSILON, extent, joinPrimitives, MAX_CHECKED_TRIANGLES } from './shells';
import { findTopology } from './topology';

const label = (m: Material) => m.getName() || 'unnamed';

/** Later materials that equal an earlier one in all but their name. */
export function repeatedMaterials(materials: readonly Material[]): [later: Material, earlier: Material][] {
  const out: [Material, Material][] = [];
  const kept: Material[] = [];
  for (const m of materials) {
    const same = kept.find((k) => k.equals(m, new Set(['name', 'extras'])));
    if (same) out.push([m, same]);
    else kept.push(m);
  }
  return out;
}

/** Materials that blend although nothing about them is see-through. */
export function needlessBlends({ document, pictures }: Pick<CheckContext, 'document' | 'pictures'>): Material[] {
  const textures = document.getRoot().listTextures();
  const faded = new Set<Material>();
  for (const mesh of document.getRoot().listMeshes())
    for (const p of mesh.listPrimitives()) {
      const color = p.getAttribute('COLOR_0');
      const m = p.getMaterial();
      if (!m || !color || color.getElementSize() !== 4) continue;
      const row: number[] = [];
      for (let i = 0; i < color.getCount(); i++)
        if (color.getElement(i, row)[3] < 0.996) {
          faded.add(m);
          break;
        }
    }
  return document
    .getRoot()
    .listMaterials()
    .filter((m) => {
      if (m.getAlphaMode() !== 'BLEND' || m.getAlpha() < 0.996 || faded.has(m)) return false;
      const base = m.getBaseColorTexture();
      const stats = base ? pictures[textures.indexOf(base)]?.stats : undefined;
      return !base || (stats ? !stats.hasAlpha || stats.alphaMin > 0.996 : false);
    });
}

/** Two-sided, opaque materials of which every shape is closed: the inner sides are never seen. */
export function needlessSides({ document, model }: Pick<CheckContext, 'document' | 'model'>): Material[] {
  const raw = placedPrimitives(document);
  const open = new Set<Material>();
  const used = new Set<Material>();
  model.meshes.forEach((mesh, m) => {
    const two = raw[m].map((p) => p.getMaterial()).filter((x): x is Material => !!x?.getDoubleSided());
    if (two.length === 0) return;
    const soup = joinPrimitives(mesh.primitives);
    const size = extent(soup.positions);
    const topo =
      soup.owner.length > 0 && soup.owner.length <= MAX_CHECKED_TRIANGLES && size > 0
        ? findTopology(soup.positions, soup.triangles, size * EPSILON)
        : null;
    raw[m].forEach((p, i) => {
      const material = p.getMaterial();
      if (!material?.getDoubleSided()) return;
      used.add(material);
      const whole =
        topo && soup.owner.every((o, t) => o !== i || (topo.openOf[topo.shell[t]] === 0 && topo.crowdedOf[topo.shell[t]] === 0));
      if (!whole || mesh.primitives[i].triangles.length === 0) open.add(material);
    });
  });
  return [...used].filter((m) => !open.has(m) && m.getAlphaMode() === 'OPAQUE' && !m.getExtension('KHR_materials_transmission'));
}

export const unlitButShaded = (m: Material): boolean =>
  m.getExtension('KHR_materials_unlit') !== null && !!(m.getNormalTexture() ?? m.getMetallicRoughnessTexture() ?? m.getOcclusionTexture());

/** A picture that only shines, on black: made to look the same in any light. */
export function shinesOnly(m: Material): boolean {
  if (m.getExtension('KHR_materials_unlit') || !m.getEmissiveTexture()) return false;
  const full = m.getEmissiveFactor().every((x) => x > 0.9);
  const black = m
    .getBaseColorFactor()
    .slice(0, 3)
    .every((x) => x < 0.01);
  return full && (black || m.getBaseColorTexture() === m.getEmissiveTexture());
}

export function checkMaterials(c: CheckContext): Finding[] {
  const out: Finding[] = [];
  const materials = c.document.getRoot().listMaterials();
  const repeats = repeatedMaterials(materials);
  if (repeats.length)
    out.push(
      finding(
        'material/duplicates',
        'note',
        `${count(repeats.length, 'material equals', 'materials equal')} another in all but its name. Each costs a draw call of its own.`,
        some(repeats.map(([m]) => label(m))),
        mend('merge-materials', ...repeats.map(([m, k]) => `${label(m)} becomes ${label(k)}.`)),
      ),
    );
  const blends = needlessBlends(c);
  if (blends.length)
    out.push(
      finding(
        'material/blend-opaque',
        'warning',
        `${count(blends.length, 'material blends', 'materials blend')} although nothing is see-through: surfaces show in the wrong order.`,
        some(blends.map(label)),
        mend('opaque', ...blends.map((m) => `${label(m)} becomes opaque.`)),
      ),
    );
  const sides = needlessSides(c);
  if (sides.length)
    out.push(
      finding(
        'material/double-sided',
        'note',
        `${count(sides.length, 'material is', 'materials are')} drawn from both sides on closed shapes, where the inside is never seen.`,
        some(sides.map(label)),
        mend('single-sided', ...sides.map((m) => `${label(m)} is drawn from outside only.`)),
      ),
    );
  const unlit = materials.filter(unlitButShaded);
  if (unlit.length)
    out.push(
      finding(
        'material/unlit',
        'note',
        `${count(unlit.length, 'material is', 'materials are')} unlit, with maps that only light would show.`,
        some(unlit.map(label)),
        mend('lit', ...unlit.map((m) => `${label(m)} takes light.`)),
      ),
    );
  const shining = materials.filter(shinesOnly);
  if (shining.length)
    out.push(
      finding(
        'material/lit',
        'note',
        `${count(shining.length, 'material shows its', 'materials show their')} picture by shining, as unlit ones do, at the price of light.`,
        some(shining.map(label)),
        mend('unlit', ...shining.map((m) => `${label(m)} becomes unlit.`)),
      ),
    );
  return out;
}
