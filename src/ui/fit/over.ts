/** What is gone through when a part is measured over the cast. */
import { FACE_STRIP, type Pose } from '@/core/form';
import type { Piece } from '@/core/piece';
import { type StripOf, stripOf, turnsOf } from './state';

export type Over = StripOf | 'both';
/** Key poses, key faces, or each face in each pose. */
export function posesOver(piece: Piece, over: Over): readonly Pose[] {
  if (over !== 'both') return stripOf(piece, over);
  return turnsOf(piece).flatMap((turn) =>
    FACE_STRIP.map((face) => ({ ...turn, id: `${turn.id} ${face.id}`, label: `${turn.label}, ${face.label}`, face: face.face })),
  );
}
