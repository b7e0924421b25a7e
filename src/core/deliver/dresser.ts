/** Puts on what parts wear, usually and in each colourway (KHR_materials_variants). */
import { type Document, type Material, type Mesh, type Primitive, PropertyType } from '@gltf-transform/core';
import { KHRMaterialsVariants, type MappingList, type Variant } from '@gltf-transform/extensions';
import { finishFor } from '../finish';
import type { Part } from '../parts';
import type { ColourwayRow } from '../piece/colourwayrow';
import { colourwaysOf, shownColourway, type Wearing, wearingIn } from '../piece/colourways';
import type { Piece } from '../piece/schema';
import { type PictureOf, writeFinish } from './finishes';

const VARIANTS = 'KHR_materials_variants';
/** The usual look beside them, so that it can be come back to. */
const USUAL = 'As usual';

export class Dresser {
  private readonly shown: ColourwayRow | null;
  /** What the file offers; null: the usual look. */
  private readonly ways: readonly (ColourwayRow | null)[];
  private readonly variants = new Map<string, Variant>();

  constructor(
    private readonly target: Document,
    private readonly piece: Piece,
    private readonly pictureOf: PictureOf,
  ) {
    this.shown = shownColourway(piece);
    this.ways = colourwaysOf(piece).length > 0 ? [null, ...colourwaysOf(piece)] : [];
  }

  /**
   * Dresses a part by materials' names, and what has no material. @param bare what a part without a file looks like that wears nothing
   * @returns every material of it
   */
  dress(part: Part, materials: readonly Material[], meshes: readonly Mesh[], bare?: () => Material): Material[] {
    const byName = new Map(materials.map((m) => [m.getName(), m] as const).reverse());
    const made = new Map<Material | null, Map<string | null, Material | null>>();
    const look = (original: Material | null, wears: Wearing): Material | null => {
      const id = finishFor(wears, original?.getName() ?? '');
      const known = made.get(original) ?? new Map<string | null, Material | null>();
      made.set(original, known);
      if (!known.has(id)) known.set(id, id === null ? original : this.made(original, id, byName));
      return known.get(id) as Material | null;
    };
    const plain = new Set<Material>();
    for (const p of meshes.flatMap((mesh) => mesh.listPrimitives())) {
      const had = p.getMaterial();
      if (had) plain.add(had);
      const of = (wears: Wearing) => look(had, wears) ?? bare?.() ?? null;
      p.setMaterial(of(wearingIn(part, this.shown)));
      this.offer(p, part, of);
    }
    const fresh = [...made.values()].flatMap((m) => [...m.values()]).filter((m) => m !== null);
    const all = [...new Set([...materials, ...plain, ...fresh])];
    for (const m of plain) if (!m.listParents().some((by) => by.propertyType !== PropertyType.ROOT)) m.dispose();
    return all.filter((m) => !m.isDisposed());
  }

  private made(original: Material | null, id: string, byName: ReadonlyMap<string, Material>): Material {
    const finish = this.piece.finishes[id];
    const from = finish.ownOf === null ? original : (byName.get(finish.ownOf) ?? null);
    const material = from ? from.clone() : this.target.createMaterial();
    // what extends it is written over, too
    for (const extension of material.listExtensions()) material.setExtension(extension.extensionName, extension.clone());
    return writeFinish(this.target, material, finish, this.pictureOf);
  }

  /** The piece's colourways, and those of the file that it has none of by their names. */
  private offer(p: Primitive, part: Part, look: (wears: Wearing) => Material | null): void {
    const extension = this.target.createExtension(KHRMaterialsVariants);
    const by = new Map<Material, Set<Variant>>();
    const put = (material: Material | null, name: string) => {
      if (material) by.set(material, (by.get(material) ?? new Set()).add(this.variant(name)));
    };
    for (const way of this.ways) put(look(wearingIn(part, way)), nameOf(way));
    // the same in all of them
    if (by.size < 2) by.clear();
    for (const mapping of p.getExtension<MappingList>(VARIANTS)?.listMappings() ?? [])
      for (const name of mapping.listVariants().map((v) => v.getName()))
        if (!this.ways.some((way) => nameOf(way) === name)) put(mapping.getMaterial(), name);
    const list = extension.createMappingList();
    for (const [material, variants] of by) {
      const mapping = extension.createMapping().setMaterial(material);
      for (const v of variants) mapping.addVariant(v);
      list.addMapping(mapping);
    }
    p.setExtension(VARIANTS, by.size > 0 ? list : null);
  }

  /** One of a name for all parts. */
  private variant(name: string): Variant {
    const known = this.variants.get(name) ?? this.target.createExtension(KHRMaterialsVariants).createVariant(name);
    this.variants.set(name, known);
    return known;
  }

  /** What parts brought along and nothing names any more. */
  tidy(): void {
    const ours = new Set(this.variants.values());
    for (const v of this.target.createExtension(KHRMaterialsVariants).listVariants()) if (!ours.has(v)) v.dispose();
    if (ours.size === 0) this.target.createExtension(KHRMaterialsVariants).dispose();
  }
}

const nameOf = (way: ColourwayRow | null): string => way?.name ?? USUAL;
