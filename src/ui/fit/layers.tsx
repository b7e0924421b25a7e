'use client';
/** The stacking as a plain list: layers with what is drawn in them, the last drawn at the top. */
import { ArrowDown, ArrowUp, Eye, EyeOff, Trash2 } from 'lucide-react';
import { moveLayer, showLayer, takeOutLayer } from '@/core/fit';
import { CAMERA_LAYER_ID, holds, type Layer, layerName, MAIN_LAYER_ID, rackOf } from '@/core/piece';
import { Mark } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { AddLayer, LAYER_MARKS } from './addlayer';
import { PART_MARKS } from './kinds';
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
          <Row key={layer.id} layer={layer} place={place} last={doc.orders.layers.length} />
        ))}
      </ol>
    </section>
  );
}

function Row({ layer, place, last }: { layer: Layer; place: number; last: number }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const selected = usePiece((s) => s.selected);
  const name = layerName(layer);
  const parts = rackOf(doc).filter((p) => p.layer === layer.id && !holds(p));
  const fixed = layer.id === MAIN_LAYER_ID || layer.id === CAMERA_LAYER_ID;
  const stuck = parts.length > 0 && !doc.orders.layers.some((id) => id !== layer.id && doc.layers[id].kind === layer.kind);
  const act = (label: string, can: boolean, icon: React.ReactNode, go: () => void) => (
    <button
      type="button"
      className="btn btn-bare btn-sm btn-icon"
      style={{ height: 24, minHeight: 24, width: 24, padding: 0 }}
      aria-label={`${label} ${name}`}
      title={label}
      aria-disabled={!can}
      onClick={() => can && go()}
    >
      {icon}
    </button>
  );
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
        {act('Draw later:', place < last, <ArrowUp className="ico" />, () => commit(moveLayer(doc, layer.id, 1)))}
        {act('Draw earlier:', place > 1, <ArrowDown className="ico" />, () => commit(moveLayer(doc, layer.id, -1)))}
        {act(layer.visible ? 'Hide layer' : 'Show layer', true, layer.visible ? <Eye className="ico" /> : <EyeOff className="ico" />, () =>
          commit(showLayer(layer.id, !layer.visible)),
        )}
        {!fixed && act('Delete layer', !stuck, <Trash2 className="ico" />, () => commit(takeOutLayer(doc, layer.id)))}
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
