/** What goes into the GLB and what stays behind, with the reason; the list is shown before anything is delivered. */
import { mayDeliver } from '../intake/licence';
import { linkedPictures } from '../piece/recipe';
import type { ModelPart, Piece } from '../piece/schema';

export interface LeftOut {
  name: string;
  why: string;
}
export interface Contents {
  parts: ModelPart[];
  leftOut: LeftOut[];
}

export function packageContents(piece: Piece): Contents {
  const parts: ModelPart[] = [];
  const leftOut: LeftOut[] = [{ name: `Form ${piece.form}`, why: 'the wearer stands in for it' }];
  const used = new Set<string>();
  for (const id of piece.rack) {
    const part = piece.parts[id];
    if (part.kind === 'occluder') leftOut.push({ name: part.name, why: 'an occluder; GLB has no word for it' });
    else if (part.anchor === null) leftOut.push({ name: part.name, why: 'not hung' });
    else if (!part.visible) leftOut.push({ name: part.name, why: 'hidden' });
    else if (part.opacity === 0) leftOut.push({ name: part.name, why: 'fully transparent' });
    else {
      parts.push(part);
      used.add(part.stockId);
    }
  }
  for (const s of Object.values(piece.stock))
    if (!used.has(s.id) && !Object.values(piece.parts).some((p) => p.kind === 'model' && p.stockId === s.id))
      leftOut.push({ name: s.name, why: 'in Stock, not a part' });
  return { parts, leftOut };
}

/** Why a file may not be published. */
export interface LicenceBlocker {
  stockId: string;
  why: string;
}

/** Files that go into the package, pictures put into them included, whose licence is unknown or forbids it. */
export function licenceBlockers(piece: Piece): LicenceBlocker[] {
  const used = new Set(packageContents(piece).parts.map((p) => p.stockId));
  const linked = new Set(
    [...used].flatMap((id) => piece.recipes[id]?.steps ?? []).flatMap((s) => (s.on ? linkedPictures([s]).map((l) => l.picture) : [])),
  );
  return Object.values(piece.stock).flatMap((item) => {
    if (!used.has(item.id) && !(item.kind === 'picture' && linked.has(item.original))) return [];
    const why = mayDeliver(item.name, item.credit, piece.recipes[item.id] !== undefined);
    return why ? [{ stockId: item.id, why }] : [];
  });
}
