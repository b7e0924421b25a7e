/** The merge and prune steps: what draws alike is drawn once, what nothing uses goes. */
import { type Document, type GLTF, type Primitive, PropertyType, type TypedArray } from '@gltf-transform/core';
import { dedup, flatten, join, prune, weld } from '@gltf-transform/functions';
import type { MergeSettings } from '../piece/recipe';

/** Joins materials that are the same but for their name, and meshes that wear the same and do not move. */
export async function runMerge(document: Document, { materials, meshes }: MergeSettings): Promise<void> {
  if (materials) await document.transform(dedup({ propertyTypes: [PropertyType.TEXTURE, PropertyType.MATERIAL] }));
  if (meshes) await document.transform(flatten(), join({ keepNamed: false, cleanup: false }));
}

/** Takes out what nothing uses, and puts vertices together that are bit by bit the same. */
export async function runPrune(document: Document): Promise<void> {
  const kept = directions(document);
  await document.transform(
    dedup({ propertyTypes: [PropertyType.ACCESSOR, PropertyType.TEXTURE, PropertyType.MESH] }),
    prune({ keepAttributes: false, keepLeaves: true, keepSolidTextures: true, keepIndices: false, keepExtras: true }),
    restored(kept),
    weld(),
  );
}

interface Held {
  name: string;
  type: GLTF.AccessorType;
  array: TypedArray;
  normalized: boolean;
}

/** UVs and tangents that KHR_materials_anisotropy turns by, though no picture is laid on them: the package takes them for unused. */
function directions(document: Document): Map<Primitive, Held[]> {
  const out = new Map<Primitive, Held[]>();
  for (const mesh of document.getRoot().listMeshes())
    for (const p of mesh.listPrimitives()) {
      if (!p.getMaterial()?.getExtension('KHR_materials_anisotropy')) continue;
      const own = ['TEXCOORD_0', 'TANGENT'].flatMap((name): Held[] => {
        const a = p.getAttribute(name);
        const array = a?.getArray();
        return a && array ? [{ name, type: a.getType(), array, normalized: a.getNormalized() }] : [];
      });
      out.set(p, own);
    }
  return out;
}

/** Puts back what was taken out of shapes that are still there. */
const restored =
  (kept: ReadonlyMap<Primitive, readonly Held[]>) =>
  (document: Document): void => {
    const alive = new Set(
      document
        .getRoot()
        .listMeshes()
        .flatMap((m) => m.listPrimitives()),
    );
    for (const [p, own] of kept)
      for (const { name, type, array, normalized } of own) {
        if (!alive.has(p) || p.getAttribute(name)) continue;
        const buffer = p.getAttribute('POSITION')?.getBuffer() ?? null;
        p.setAttribute(name, document.createAccessor().setType(type).setArray(array).setNormalized(normalized).setBuffer(buffer));
      }
  };
