'use client';
/** What can be set of a layer: how its parts are sorted, or where its matte is and how far its edge goes. */
import { change, type Layer, layerName, type Matte } from '@/core/piece';
import { NumField } from '../kit';
import { usePiece } from '../piece/context';

export function LayerFields({ layer }: { layer: Layer }) {
  const commit = usePiece((s) => s.commit);
  const name = layerName(layer);
  if (layer.kind === 'parts')
    return (
      <label className="flex items-center gap-1 text-micro soft">
        <span>drawn</span>
        <select
          className="field h-[24px]! px-1! text-micro! py-0!"
          style={{ width: 142 }}
          aria-label={`Sorting of ${name}`}
          value={layer.sort}
          onChange={(e) => commit(change('layers', layer.id, { sort: e.target.value as 'depth' | 'order' }))}
        >
          <option value="depth">by distance</option>
          <option value="order">in the order of the rack</option>
        </select>
      </label>
    );
  if (layer.kind !== 'matte') return null;
  const put = (set: Partial<Matte>) => commit(change('layers', layer.id, { matte: { ...layer.matte, ...set } }));
  const px = (label: string, word: string, value: number, min: number, keep: (v: number) => void) => (
    <span className="flex items-center gap-1">
      <span>{word}</span>
      <span className="w-[40px]">
        <NumField
          label={`${label} of ${name}`}
          value={value}
          dimension="factor"
          unit="×"
          decimals={0}
          step={1}
          min={min}
          max={64}
          onChange={keep}
        />
      </span>
    </span>
  );
  return (
    <span className="flex flex-wrap items-center gap-x-2 gap-y-1 text-micro soft">
      <label className="flex items-center gap-1 whitespace-nowrap">
        <input type="checkbox" className="check" checked={layer.matte.invert} onChange={(e) => put({ invert: e.target.checked })} />
        inverted
      </label>
      {px('Growth', 'grown', layer.matte.growPx, -64, (growPx) => put({ growPx }))}
      {px('Softness', 'soft', layer.matte.featherPx, 0, (featherPx) => put({ featherPx }))}
      <span>px</span>
    </span>
  );
}
