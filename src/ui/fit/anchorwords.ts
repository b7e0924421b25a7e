'use client';
/** Anchors as one says them: a place that was pressed on the skin by what it is near. */
import { nearFacePlace } from '@/core/form';
import { type Anchor, anchorLabel } from '@/core/piece';
import { placeWords } from '@/core/words/places';
import { useDocument } from '../piece/context';
import { useFaceForm } from '../piece/wearers';

export function useAnchorWords(): (anchor: Anchor) => string {
  const doc = useDocument();
  const form = useFaceForm(doc);
  return (anchor) => {
    const near = form && anchor.kind === 'face' && !anchor.landmark ? nearFacePlace(form, anchor) : null;
    return near ? `Skin by ${placeWords(near.landmark)}` : anchorLabel(anchor);
  };
}
