'use client';
/** The stacking as a plain list: layers with what is drawn in them, the last drawn at the top. */
import { holds, type Layer, layerName, rackOf } from '@/core/piece';
import { Mark } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { AddLayer, LAYER_MARKS } from './addlayer';
import { PART_MARKS } from './kinds';
import { LayerActs } from './layeracts';
import { LayerFields } from './layerfields';

export function Layers() {
  const doc = useDocument();
  const front = doc.orders.layers.map((id, i) => ({ layer: doc.layers[id], place: i + 1 })).reverse();
  return (
    <section aria-label="Stacking">
      <div className="flex items-center mb-1">
        <p className="text-micro soft">Front at the top; each is drawn on what is below it.</p>
        <span className="ml-auto">
          <AddLayer />
        </span>
      </div>
      <ol className="grid gap-[3px]">
        {front.map(({ layer, place }) => (
          <Row key={layer.id} layer={layer} place={place} />
        ))}
      </ol>
    </section>
  );
}

function Row({ layer, place }: { layer: Layer; place: number }) {
  const doc = useDocument();
  const select = usePiece((s) => s.select);
  const selected = usePiece((s) => s.selected);
  const name = layerName(layer);
  const parts = rackOf(doc).filter((p) => p.layer === layer.id && !holds(p));
  return (
    <li
      className="bg-[color:var(--color-base-100)] border border-[color:var(--hair)] px-1.5 py-[3px] min-w-0"
      data-off={layer.visible ? undefined : ''}
      style={layer.visible ? undefined : { opacity: 0.6 }}
      aria-label={`Layer ${place}, ${name}`}
    >
      <div className="flex items-center gap-[3px]">
        <Mark name={LAYER_MARKS[layer.kind]} className="soft" />
        <span className="named text-[13.5px] leading-[16px] flex-1 min-w-0 break-words">{name}</span>
        <LayerActs doc={doc} layer={layer} place={place} across={false} />
      </div>
      <span className="block pl-[19px]">
        <LayerFields layer={layer} />
      </span>
      {parts.map((p) => (
        <button
          key={p.id}
          type="button"
          className={`flex items-center gap-1.5 pl-[19px] text-left text-small leading-[19px] min-h-[24px] min-w-0 ${selected === p.id ? 'font-semibold' : ''}`}
          onClick={() => select(p.id)}
        >
          <Mark name={PART_MARKS[p.kind]} className="soft" />
          <span className="truncate">{p.name}</span>
        </button>
      ))}
      {(layer.kind === 'parts' || layer.kind === 'screen') && parts.length === 0 && (
        <span className="text-micro soft pl-[19px]">empty</span>
      )}
    </li>
  );
}
