/** What goes into the GLB and what stays behind, with the reason; the list is shown before anything is delivered. */
import { mayDeliver } from '../intake/licence';
import { ANCHOR_LABELS, followAll, hides, holds, isWorn, type Part, type PartKind } from '../parts';
import { shownWearer, wearerWords } from '../piece/cast';
import { colourwaysOf, wearingIn } from '../piece/colourways';
import { layerName } from '../piece/layers';
import { linkedFiles } from '../piece/recipe';
import type { Piece } from '../piece/schema';
import { anchorOf, hiddenBy, rackOf, stockOf, stocksOf } from '../piece/selectors';
import { usualSurroundings } from '../piece/surroundings';
import { sameValue } from '../piece/table';
import { capital } from '../words/counted';
import type { Matte } from '../words/mattes';
import { unsaid } from './unsaid';

export interface LeftOut {
  name: string;
  why: string;
}
export interface Contents {
  /** In the order of the rack. */
  parts: Part[];
  leftOut: LeftOut[];
  /** What of the parts delivered a GLB cannot say; it stands in extras. */
  lost: LeftOut[];
}

/** Why a kind of part is in no GLB; null: it is. */
export const NOT_IN_GLB: { readonly [K in PartKind]: string | null } = {
  model: null,
  solid: null,
  group: null,
  occluder: 'an occluder; a GLB cannot carry it',
  patch: 'shows the wearer’s own face; a GLB cannot carry it',
  face: 'lies on the wearer’s face; a GLB cannot carry it',
  screen: 'fixed to the picture’s edges; a GLB cannot carry it',
};

function whyOut(piece: Piece, part: Part): string | null {
  const never = NOT_IN_GLB[part.kind];
  if (never) return never;
  if (hides(part)) return NOT_IN_GLB.occluder;
  const anchor = anchorOf(piece, part);
  if (anchor === null) return part.hang ? 'hangs from what is not hung' : 'not hung';
  if (anchor === 'screen') return 'hangs on the picture’s edges; a GLB cannot carry it';
  const off = hiddenBy(piece, part);
  if (off) return off.id === part.id ? 'hidden' : `hangs from ${off.name}, which is hidden`;
  if ('opacity' in part && part.opacity === 0) return 'fully transparent';
  if (!piece.layers[part.layer].visible) return `in ${layerName(piece.layers[part.layer])}, a layer that is switched off`;
  for (let at = part; at.hang?.on === 'part'; ) {
    at = piece.parts[at.hang.part];
    if (NOT_IN_GLB[at.kind] || hides(at) || ('opacity' in at && at.opacity === 0)) return `hangs from ${at.name}, which is left out`;
  }
  return null;
}

/** What a part follows or stands behind that a GLB has no word for; null: all is said. */
function whyLost(piece: Piece, part: Part): string | null {
  const out: string[] = [];
  if (!sameValue(part.follow, followAll())) {
    const { trail, size, upright, ...channels } = part.follow;
    const not = (['place', 'yaw', 'pitch', 'roll'] as const).filter((c) => !channels[c]);
    if (not.length > 0) out.push(`does not follow ${not.join(', ')}`);
    if (upright) out.push('stays upright');
    if (size) out.push('grows with the form');
    if (trail) out.push('lags behind');
  }
  if (isWorn(part)) out.push('goes with the body’s joints');
  const looks = new Set([null, ...colourwaysOf(piece)].flatMap((c) => Object.values(wearingIn(part, c))));
  for (const id of looks) if (id !== null) for (const what of unsaid(piece.finishes[id])) out.push(`${piece.finishes[id].name} ${what}`);
  const { layers } = piece.orders;
  const above = layers.slice(layers.indexOf(part.layer) + 1).map((id) => piece.layers[id]);
  for (const l of above) if (l.visible && l.kind === 'matte') out.push(behindWords(l.matte));
  return out.length > 0 ? out.join(', ') : null;
}

/** What is seen of what lies before a matte. */
function behindWords({ name, invert }: Matte): string {
  if (invert)
    return name === 'sky'
      ? 'is seen only in the sky'
      : name === 'person'
        ? 'is seen only on the wearer'
        : `is seen only on the wearer’s ${name}`;
  if (name === 'sky') return 'the sky before it';
  return name === 'person' ? 'stands behind the wearer' : `the wearer’s ${name} before it`;
}

export function packageContents(piece: Piece): Contents {
  const parts: Part[] = [];
  const lost: LeftOut[] = [];
  const leftOut: LeftOut[] = [{ name: capital(wearerWords(shownWearer(piece))), why: 'the wearer stands in for it' }];
  for (const part of rackOf(piece)) {
    const why = whyOut(piece, part);
    if (why) {
      leftOut.push({ name: part.name, why });
      continue;
    }
    parts.push(part);
    const less = whyLost(piece, part);
    if (less) lost.push({ name: part.name, why: less });
  }
  // a group of which nothing is delivered is nothing itself
  const carries = new Set(parts.filter((p) => !holds(p)).flatMap((p) => parentsOf(piece, p)));
  const kept = parts.filter((p) => !holds(p) || carries.has(p.id));
  const used = new Set(Object.values(piece.parts).flatMap(stocksOf));
  for (const s of Object.values(piece.stock)) if (!used.has(s.id)) leftOut.push({ name: s.name, why: 'in Stock, not a part' });
  const said = lost.filter((l) => kept.some((p) => p.name === l.name));
  if (kept.length > 0 && !sameValue(piece.settings.surroundings, usualSurroundings()))
    said.push({ name: 'The light', why: 'its environment and exposure stay behind; whoever shows the GLB lights it' });
  return { parts: kept, leftOut, lost: said };
}

function parentsOf(piece: Piece, part: Part): string[] {
  const out: string[] = [];
  for (let at = part; at.hang?.on === 'part'; ) {
    at = piece.parts[at.hang.part];
    out.push(at.id);
  }
  return out;
}

/** Where delivered parts hang: "under Head", "under Head and Shoulders". */
export function rootsOf(piece: Piece, parts: readonly Part[]): string[] {
  return [...new Set(parts.map((p) => anchorOf(piece, p)))].flatMap((a) => (a ? [ANCHOR_LABELS[a]] : []));
}

/** Why a file may not be published. */
export interface LicenceBlocker {
  stockId: string;
  why: string;
}

/** Files that go into the package, pictures, motions and weights put into them included, whose licence is unknown or forbids it. */
export function licenceBlockers(piece: Piece): LicenceBlocker[] {
  const used = new Set(packageContents(piece).parts.flatMap((p) => stockOf(p) ?? []));
  const linked = new Set(
    [...used].flatMap((id) => piece.recipes[id]?.steps ?? []).flatMap((s) => (s.on ? linkedFiles([s]).map((l) => l.file) : [])),
  );
  return Object.values(piece.stock).flatMap((item) => {
    const given = linked.has(item.kind === 'picture' ? item.original : item.model);
    if (!used.has(item.id) && !given) return [];
    const why = mayDeliver(item.name, item.credit, piece.recipes[item.id] !== undefined);
    return why ? [{ stockId: item.id, why }] : [];
  });
}
