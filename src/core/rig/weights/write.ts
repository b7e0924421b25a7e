/** Shares that were changed, into the document they were read from. */
import type { Accessor, Document } from '@gltf-transform/core';
import type { Model } from '../../model';
import type { Held } from '../held';

const FOUR = 4;
export type Shares = [bone: number, share: number][];

/** What a vertex follows, the greatest first. */
export function sharesAt({ bones, shares }: Held['binding'], v: number): Shares {
  const out: Shares = [];
  for (let i = v * FOUR; i < v * FOUR + FOUR; i++) if (shares[i] > 0) out.push([bones[i], shares[i]]);
  return out;
}

/** Numbers in whose place others came go, unless something else uses them. */
export function letGo(...old: (Accessor | null)[]): void {
  // told by its word: a page that paints loads no glTF library for it
  for (const a of new Set(old)) if (a?.listParents().every((p) => (p.propertyType as string) === 'Root')) a.dispose();
}

/** Only vertices whose shares are others than before are written; all else keeps its bits. */
export function writeShares(document: Document, model: Model, { surface, binding }: Held, before: Held['binding']): void {
  const joints = [...new Set(model.skins.flatMap((s) => s.joints))];
  const nodes = document.getRoot().listNodes();
  const changed = (v: number) => {
    for (let k = v * FOUR; k < v * FOUR + FOUR; k++)
      if (before.bones[k] !== binding.bones[k] || before.shares[k] !== binding.shares[k]) return true;
    return false;
  };
  for (const { primitive: p, vertices } of surface.sources) {
    const skin = model.skins[model.nodes[p.node].skin];
    const primitive = nodes[p.node]
      .getMesh()
      ?.listPrimitives()
      .filter((x) => x.getAttribute('POSITION'))[p.primitive];
    const [j, w] = [primitive?.getAttribute('JOINTS_0'), primitive?.getAttribute('WEIGHTS_0')];
    if (!skin || !primitive || !j || !w || !vertices.some(changed)) continue;
    const inSkin = new Map(skin.joints.map((node, i) => [joints.indexOf(node), i]));
    const [of, share] = [j.clone(), w.clone().setNormalized(false)];
    const [indices, weights] = [new Uint16Array(vertices.length * FOUR), new Float32Array(vertices.length * FOUR)];
    const [row, had]: [number[], number[]] = [[], []];
    vertices.forEach((v, i) => {
      const own = changed(v) ? sharesAt(binding, v).filter(([b]) => inSkin.has(b)) : [];
      if (own.length === 0) {
        j.getElement(i, row);
        w.getElement(i, had);
        indices.set(row, i * FOUR);
        weights.set(had, i * FOUR);
        return;
      }
      own.forEach(([b, s], k) => {
        indices[i * FOUR + k] = inSkin.get(b) as number;
        weights[i * FOUR + k] = s;
      });
      for (let set = 1; primitive.getAttribute(`WEIGHTS_${set}`); set++)
        primitive.getAttribute(`WEIGHTS_${set}`)?.setElement(i, [0, 0, 0, 0]);
    });
    primitive.setAttribute('JOINTS_0', of.setArray(skin.joints.length <= 256 ? Uint8Array.from(indices) : indices));
    primitive.setAttribute('WEIGHTS_0', share.setArray(weights));
    letGo(j, w);
  }
}
