'use client';
/** A face surface: what it covers, what is painted on it, what is left open, and a re-sculpted copy of the form that it takes its shape from. */
import { changePart, FACE_COVER_LABELS, FACE_COVERS, type PartOf } from '@/core/piece';
import { NumField } from '../../kit';
import { say } from '../../kit/say';
import { useDocument, usePiece } from '../../piece/context';
import { loadSculpt } from '../../piece/sculpts';
import { useFitModels } from '../run';
import { Card, ColourLine, Line, PickLine } from './card';
import { Opacity } from './opacity';
import { sculptWords } from './sculptwords';

const LOCKED = 'Unlock the part first';

export function FaceCard({ part }: { part: PartOf<'face'> }) {
  const doc = useDocument();
  const models = useFitModels();
  const commit = usePiece((s) => s.commit);
  const put = (set: Partial<PartOf<'face'>>) => commit(changePart(part.id, set));
  const pictures = Object.values(doc.stock).filter((f) => f.kind === 'picture');
  const copies = Object.values(doc.stock).filter((f) => f.kind === 'model');
  const sculpt = async (id: string) => {
    if (id === '') {
      put({ sculpt: null });
      return;
    }
    const { name } = doc.stock[id];
    try {
      const told = await loadSculpt(doc, id, models);
      if (!told) say.error(`${name} is no copy of the form: it has other vertices. Model upon the form’s own file, from Stock.`);
      else if (put({ sculpt: id })) say.message(sculptWords(name, told));
    } catch (error) {
      say.error((error as Error).message);
    }
  };
  return (
    <Card title="Face surface">
      <PickLine
        label="Covers"
        name="What of the face it covers"
        width={110}
        value={part.covers}
        options={FACE_COVERS.map((value) => ({ value, label: FACE_COVER_LABELS[value].toLowerCase() }))}
        locked={part.locked}
        onPick={(covers) => put({ covers })}
      />
      <PickLine
        label="Painted with"
        name="Picture on the face"
        width={110}
        value={part.stock ?? ''}
        options={[{ value: '', label: 'no picture' }, ...pictures.map((p) => ({ value: p.id, label: p.name }))]}
        locked={part.locked}
        onPick={(stock) => put({ stock: stock || null })}
      />
      <ColourLine
        label={part.stock ? 'Colour under it' : 'Colour'}
        name="Colour of the face surface"
        ask="A colour where nothing is painted"
        value={part.colour}
        start="#c9a36b"
        locked={part.locked}
        onPick={(colour) => put({ colour })}
      />
      {part.covers === 'face' && (
        <fieldset className="flex flex-wrap gap-x-3 gap-y-1 my-1 text-small" disabled={part.locked}>
          <legend className="soft float-left mr-1">Left open</legend>
          {(['eyes', 'mouth'] as const).map((hole) => (
            <label key={hole} className="flex items-center gap-1">
              <input
                type="checkbox"
                className="check"
                checked={part.holes[hole]}
                onChange={(e) => put({ holes: { ...part.holes, [hole]: e.target.checked } })}
              />
              {hole}
            </label>
          ))}
        </fieldset>
      )}
      <PickLine
        label="Shaped as"
        name="Re-sculpted copy of the form"
        width={110}
        value={part.sculpt ?? ''}
        options={[{ value: '', label: 'the face is' }, ...copies.map((p) => ({ value: p.id, label: p.name }))]}
        locked={part.locked}
        onPick={(id) => void sculpt(id)}
      />
      <Line label="Stands off">
        <span className="block w-[82px]">
          <NumField
            label="Stands off the skin"
            dimension="length"
            unit="mm"
            after="mm"
            decimals={1}
            step={0.0001}
            min={-0.005}
            max={0.03}
            value={part.growMm / 1000}
            disabledWhy={part.locked ? LOCKED : undefined}
            onChange={(m) => put({ growMm: Math.round(m * 1e5) / 100 })}
          />
        </span>
      </Line>
      <Opacity part={part} />
      <p className="text-micro soft mt-1.5">It goes with all that the face does. The form’s UV layout, to paint upon, is in Stock.</p>
    </Card>
  );
}
