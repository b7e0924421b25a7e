'use client';
/** What is pressed at a layer: drawn earlier or later, hidden, taken out. */
import { ArrowDown, ArrowUp, ChevronLeft, ChevronRight, Eye, EyeOff, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { moveLayer, showLayer, takeOutLayer } from '@/core/fit';
import { CAMERA_LAYER_ID, type Layer, layerName, MAIN_LAYER_ID, type Piece } from '@/core/piece';
import { usePiece } from '../piece/context';

/** @param place from the back, 1 the first @param across the layers stand side by side, the back at left; else the front at the top */
export function LayerActs({ doc, layer, place, across }: { doc: Piece; layer: Layer; place: number; across: boolean }) {
  const commit = usePiece((s) => s.commit);
  const name = layerName(layer);
  const last = doc.orders.layers.length;
  const fixed = layer.id === MAIN_LAYER_ID || layer.id === CAMERA_LAYER_ID;
  const holdsParts = Object.values(doc.parts).some((p) => p.layer === layer.id);
  const stuck = holdsParts && !doc.orders.layers.some((id) => id !== layer.id && doc.layers[id].kind === layer.kind);
  const act = (label: string, can: boolean, icon: ReactNode, go: () => void) => (
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
  const later = act('Draw later:', place < last, across ? <ChevronRight className="ico" /> : <ArrowUp className="ico" />, () =>
    commit(moveLayer(doc, layer.id, 1)),
  );
  const earlier = act('Draw earlier:', place > 1, across ? <ChevronLeft className="ico" /> : <ArrowDown className="ico" />, () =>
    commit(moveLayer(doc, layer.id, -1)),
  );
  return (
    <>
      {across ? earlier : later}
      {across ? later : earlier}
      {act(layer.visible ? 'Hide layer' : 'Show layer', true, layer.visible ? <Eye className="ico" /> : <EyeOff className="ico" />, () =>
        commit(showLayer(layer.id, !layer.visible)),
      )}
      {!fixed && act('Delete layer', !stuck, <Trash2 className="ico" />, () => commit(takeOutLayer(doc, layer.id)))}
    </>
  );
}
