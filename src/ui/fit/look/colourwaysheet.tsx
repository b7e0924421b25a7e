'use client';
/** Every colourway on who is shown, at the same instant, and what differs. */
import { useEffect, useState } from 'react';
import { applyEdit, type ColourwayRow, castOf, colourwaysOf, settings, shownColourway, shownWearer, wearerWords } from '@/core/piece';
import { Dialog } from '../../kit';
import { say } from '../../kit/say';
import { useDocument, usePiece } from '../../piece/context';
import { portraitCamera } from '../../piece/portrait';
import { formsFor } from '../../piece/wearers';
import { stillOf } from '../cards/still';
import { useFitRunRef } from '../run';
import { useFit } from '../state';

const PICTURE = { width: 300, height: 330, ratio: 1 };
const NONE = 'usual';

export function ColourwaySheet({ onClose }: { onClose: () => void }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const run = useFitRunRef();
  const pose = useFit((s) => s.pose);
  const [pictures, setPictures] = useState<Readonly<Record<string, string>>>({});
  const ways: (ColourwayRow | null)[] = [null, ...colourwaysOf(doc)];
  const shown = shownColourway(doc)?.id ?? null;
  // drawn anew when a look changes, not when another one is shown
  const { parts, finishes, colourways, layers } = doc;
  // biome-ignore lint/correctness/useExhaustiveDependencies: as said
  useEffect(() => {
    let gone = false;
    const made: string[] = [];
    const go = async () => {
      const assets = { ...run.current.show.assets, forms: await formsFor(doc, castOf(doc)) };
      const camera = portraitCamera(doc, assets);
      for (const way of ways) {
        if (gone) return;
        const there = applyEdit(doc, settings({ colourway: way?.id ?? null }));
        const url = await stillOf(there, assets, pose, camera, PICTURE);
        made.push(url);
        if (!gone) setPictures((p) => ({ ...p, [way?.id ?? NONE]: url }));
      }
    };
    go().catch((e: Error) => !gone && say.error(e.message));
    return () => {
      gone = true;
      for (const url of made) URL.revokeObjectURL(url);
    };
  }, [parts, finishes, colourways, layers, doc.settings.surroundings, pose]);
  return (
    <Dialog title="Colourways side by side" wide onClose={onClose}>
      <ul
        className="grid gap-3"
        style={{ gridTemplateColumns: 'repeat(auto-fill, minmax(200px, 1fr))' }}
        aria-label="Colourways side by side"
        data-ready={ways.every((w) => pictures[w?.id ?? NONE]) ? 'yes' : undefined}
      >
        {ways.map((way) => {
          const id = way?.id ?? null;
          const name = way?.name ?? 'As usual';
          const picture = pictures[id ?? NONE];
          return (
            <li key={id ?? NONE} className="text-small min-w-0">
              <div
                className="border border-[color:var(--hair-strong)] bg-[color:var(--water)]"
                style={{
                  aspectRatio: `${PICTURE.width} / ${PICTURE.height}`,
                  outline: id === shown ? '2px solid var(--brass)' : undefined,
                }}
              >
                {picture && (
                  // biome-ignore lint/performance/noImgElement: drawn here, not fetched
                  <img className="w-full h-full" src={picture} alt={`${name}, on ${wearerWords(shownWearer(doc))}`} />
                )}
              </div>
              <p className={`mt-1 truncate ${way ? 'named text-[15px]' : ''}`} title={name} dir="auto">
                {name}
              </p>
              <p className="text-micro soft min-h-[32px]">{way ? differs(doc, way) : 'What parts wear when nothing else is said.'}</p>
              <button
                type="button"
                className="btn btn-line btn-sm w-full mt-1"
                aria-label={`Show ${name}`}
                aria-disabled={id === shown}
                onClick={() => id !== shown && commit(settings({ colourway: id }))}
              >
                {id === shown ? 'Shown' : 'Show it'}
              </button>
            </li>
          );
        })}
      </ul>
    </Dialog>
  );
}

/** "Rim: Brass; Lens: as its file has it". */
function differs({ finishes }: ReturnType<typeof useDocument>, { looks }: ColourwayRow): string {
  if (looks.length === 0) return 'As usual so far.';
  const words = looks.map((l) => {
    const name = l.finish ? finishes[l.finish].name : 'as its file has it';
    return l.material && l.material !== '*' ? `${l.material}: ${name}` : name;
  });
  const some = [...new Set(words)];
  return `${some.slice(0, 4).join('; ')}${some.length > 4 ? ` and ${some.length - 4} more` : ''}.`;
}
