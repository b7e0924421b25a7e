'use client';
/** Pictures painted elsewhere that come back: each takes the place of the one it was. */
import { type FileFacts, pictureLeaf, type StockFacts } from '@/core/intake';
import { type Piece, type StepDraft, usedFile } from '@/core/piece';

const stem = (name: string) =>
  pictureLeaf(name)
    .replace(/\.(png|jpe?g|webp|tga|tiff?|psd|avif)$/i, '')
    .trim()
    .toLowerCase();

export type Place =
  | { kind: 'picture'; stockId: string; of: string }
  | { kind: 'texture'; stockId: string; of: string; texture: string }
  | null;

interface AtHand {
  original: string;
  model: string;
  facts: FileFacts | null;
}

const factsOf = (piece: Piece, id: string, assets: readonly AtHand[]): StockFacts | null => {
  const facts = assets.find((a) => a.original === piece.stock[id].original && a.model === usedFile(piece, id))?.facts;
  return facts?.kind === 'model' ? facts : null;
};

/**
 * Where a picture that comes in belongs: to the stock picture, or the one texture, of its name. null where none or several have it;
 * and where a model misses a picture of that name, relinking is the way.
 */
export function placeOf(piece: Piece, assets: readonly AtHand[], picture: { name: string; original: string }): Place {
  const name = stem(picture.name);
  if (!name) return null;
  const models = Object.values(piece.stock).flatMap((s) => {
    const facts = s.kind === 'model' ? factsOf(piece, s.id, assets) : null;
    return facts ? [{ item: s, facts }] : [];
  });
  if (models.some(({ facts }) => facts.wanted.some((w) => stem(w.name) === name))) return null;
  const pictures = Object.values(piece.stock).filter(
    (s) => s.kind === 'picture' && stem(s.name) === name && s.original !== picture.original,
  );
  const textures = models.flatMap(({ item, facts }) =>
    facts.textures.filter((t) => stem(t.name) === name).map((t) => ({ item, texture: t.name })),
  );
  if (textures.length === 1 && pictures.length === 0) {
    const [{ item, texture }] = textures;
    return { kind: 'texture', stockId: item.id, of: item.name, texture };
  }
  if (pictures.length === 1 && textures.length === 0) return { kind: 'picture', stockId: pictures[0].id, of: pictures[0].name };
  return null;
}

export const repaintDraft = (place: Extract<Place, { kind: 'texture' }>, picture: { sha: string; name: string }): StepDraft => ({
  step: 'repaint',
  settings: { links: [{ texture: place.texture, was: null, picture: picture.sha, name: picture.name }] },
});
