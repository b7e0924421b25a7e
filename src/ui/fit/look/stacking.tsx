'use client';
/** The stacking as a strip: layers in the order they are drawn, back at left, each a small picture of its own; dragged, with their parts. */
import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useEffect, useRef } from 'react';
import { ulid } from 'ulid';
import { isBehind, putBefore, putBehind } from '@/core/fit';
import { cutOut, moveLayerTo, moveToLayer, partsIn, putInSky, skyLayer, takesPart } from '@/core/fit/stackacts';
import { type Layer, layerName, MAIN_LAYER_ID, type Part, type Piece } from '@/core/piece';
import type { StageState } from '@/core/run';
import { dragWords, Mark } from '../../kit';
import { useDocument, usePiece } from '../../piece/context';
import type { Wearer } from '../../piece/wearers';
import { AddLayer, LAYER_MARKS } from '../addlayer';
import { PART_MARKS } from '../kinds';
import { LayerActs } from '../layeracts';
import { drawOneByOne } from '../onebyone';
import { freeName } from '../partmenu';
import { PlayButton, usePlaying } from '../playing';
import { handMoves, useFit } from '../state';
import { InFront } from './infront';
import { layerKey, mirrorSize } from './pictures';
import { usePoorForm } from './poorform';

const STRIP_PX = 236;
const PICTURE_PX = 108;
const SETTLE_MS = 300;
const PRESSED = { activationConstraint: { distance: 5 } };
const PART = 'part:';
/** What the wearer is cut out before, at first: chart paper. */
const PAPER = '#efe6cf';

/** @param chosen the layer whose settings are shown */
export function Stacking({
  state,
  wearer,
  ready,
  chosen,
  onChoose,
}: {
  state: StageState;
  wearer: Wearer | null;
  /** Another one when a file or a light has come. */
  ready: object;
  chosen: string | null;
  onChoose: (id: string) => void;
}) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const canvases = useLayerPictures(state, wearer, ready);
  usePoorForm();
  usePlaying();
  const sensors = useSensors(useSensor(PointerSensor, PRESSED));
  const drop = ({ active, over }: DragEndEvent) => {
    const [what, to] = [String(active.id), String(over?.id ?? '')];
    if (!doc.layers[to] || what === to) return;
    if (!what.startsWith(PART)) return void commit(moveLayerTo(doc, what, doc.orders.layers.indexOf(to)));
    const part = doc.parts[what.slice(PART.length)];
    if (part && !part.locked && part.layer !== to && takesPart(doc.layers[to], part)) commit(moveToLayer(doc, [part.id], to));
  };
  const nameOf = (id: string | number) => {
    const key = String(id);
    return key.startsWith(PART) ? (doc.parts[key.slice(PART.length)]?.name ?? '') : doc.layers[key] ? layerName(doc.layers[key]) : key;
  };
  return (
    <section
      className="look-strip border-t border-[color:var(--hair-strong)] grid min-w-0"
      aria-label="Stacking"
      style={{ height: STRIP_PX, gridTemplateColumns: 'minmax(0, 1fr) 308px' }}
    >
      <div className="flex flex-col min-w-0">
        <div className="flex items-center gap-1.5 h-[36px] px-2.5">
          <h2 className="text-[14px] font-semibold mr-1">Stacking</h2>
          <span className="text-micro soft mr-auto truncate">drawn in this order, back at left</span>
          <PlayButton />
          <Presses doc={doc} />
          <AddLayer />
        </div>
        <DndContext
          sensors={sensors}
          collisionDetection={pointerWithin}
          accessibility={dragWords(nameOf, 'The arrows of a layer move it; the layer of a part is in its card.')}
          onDragEnd={drop}
        >
          <ol className="flex gap-1.5 px-2.5 pb-2 overflow-x-auto min-h-0 flex-1" aria-label="Layers, back to front">
            {doc.orders.layers.map((id, i) => (
              <LayerCard
                key={id}
                doc={doc}
                layer={doc.layers[id]}
                place={i + 1}
                chosen={chosen === id}
                onChoose={() => onChoose(id)}
                canvas={(c) => {
                  if (c) canvases.current.set(id, c);
                  else canvases.current.delete(id);
                }}
              />
            ))}
          </ol>
        </DndContext>
      </div>
      <InFront state={state} wearer={wearer} />
    </section>
  );
}

/** Each layer's picture drawn alone, one a task, once the hand rests, and only where something of it is another. */
function useLayerPictures(state: StageState, wearer: Wearer | null, ready: object) {
  const canvases = useRef(new Map<string, HTMLCanvasElement>());
  const drawn = useRef(new WeakMap<HTMLCanvasElement, string>());
  const moving = useFit(handMoves);
  const playing = useFit((s) => s.playing);
  useEffect(() => {
    if (!wearer || moving || playing) return;
    return drawOneByOne(
      SETTLE_MS,
      () => state.layers,
      (layer) => canvases.current.get(layer.id),
      async (stage, canvas, layer) => {
        const size = mirrorSize(PICTURE_PX);
        const key = `${layerKey(state, layer, wearer, ready)} ${size.width}`;
        if (drawn.current.get(canvas) === key) return false;
        stage.setWearer(wearer);
        // switched off, it is still seen what it would be
        const on = { ...state, layers: state.layers.map((l) => (l.id === layer.id ? { ...l, shown: true } : l)) };
        await stage.drawLayer(canvas, on, size, layer.id);
        drawn.current.set(canvas, key);
        return true;
      },
    );
  }, [state, wearer, ready, moving, playing]);
  return canvases;
}

/** What one press does with the chosen parts, and with the wearer. */
function Presses({ doc }: { doc: Piece }) {
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const selection = usePiece((s) => s.selection);
  const parts = selection.flatMap((id) => doc.parts[id] ?? []).filter((p) => doc.layers[p.layer].kind === 'parts');
  const can = parts.length > 0 && parts.every((p) => !p.locked);
  const ids = parts.map((p) => p.id);
  const sky = skyLayer(doc);
  const behind = can && parts.every((p) => isBehind(doc, p));
  const inSky = can && parts.every((p) => p.layer === sky?.id);
  const press = (label: string, title: string, on: boolean, go: () => void) => (
    <button
      type="button"
      className="btn btn-line btn-sm btn-tight"
      aria-disabled={!can}
      aria-pressed={on}
      title={can ? title : 'Choose a part first'}
      onClick={() => can && !on && go()}
    >
      {label}
    </button>
  );
  return (
    <>
      {press('Behind the wearer', 'The wearer is drawn again after it, and stands before it', behind, () =>
        commit(putBehind(doc, ids, ulid)),
      )}
      {press(
        'Before the wearer',
        'In the main layer: only an occluder hides it',
        can && parts.every((p) => p.layer === MAIN_LAYER_ID),
        () => commit(putBefore(doc, ids)),
      )}
      {press('Only in the sky', 'The picture comes again over it wherever it is no sky', inSky, () => commit(putInSky(doc, ids, ulid)))}
      <button
        type="button"
        className="btn btn-line btn-sm btn-tight"
        title="A plain colour instead of the picture, and the wearer before it; a picture or an environment can take its place"
        onClick={() => {
          const { edit, part } = cutOut(doc, PAPER, freeName(doc, 'Backdrop'), ulid);
          if (commit(edit)) select(part);
        }}
      >
        Cut the wearer out
      </button>
    </>
  );
}

function LayerCard({
  doc,
  layer,
  place,
  chosen,
  onChoose,
  canvas,
}: {
  doc: Piece;
  layer: Layer;
  place: number;
  chosen: boolean;
  onChoose: () => void;
  canvas: (c: HTMLCanvasElement | null) => void;
}) {
  const mark = useFit((s) => s.mark);
  const { setNodeRef: into, isOver } = useDroppable({ id: layer.id });
  const { setNodeRef: grip, listeners, transform, isDragging } = useDraggable({ id: layer.id });
  const name = layerName(layer);
  const parts = partsIn(doc, layer.id);
  return (
    <li
      ref={into}
      className="w-[112px] shrink-0 flex flex-col min-h-0"
      aria-label={`Layer ${place}, ${name}`}
      style={{
        ...(transform && { transform: `translate(${transform.x}px, ${transform.y}px)`, zIndex: 5, position: 'relative' }),
        ...(isOver && !isDragging && { outline: '2px solid var(--brass)', outlineOffset: 1 }),
      }}
    >
      <div className="flex items-center gap-1 h-[20px]">
        <span className="layer-place num">{place}</span>
        <button
          type="button"
          className={`named text-[13.5px] leading-[16px] truncate min-w-0 text-left flex-1 h-full ${layer.visible ? '' : 'line-through'}`}
          title={name}
          aria-pressed={chosen}
          onClick={onChoose}
        >
          {name}
        </button>
      </div>
      <button
        ref={grip}
        type="button"
        tabIndex={-1}
        {...listeners}
        className={`relative block w-full border water cursor-grab ${chosen ? 'border-[color:var(--brass)] indexed' : 'border-[color:var(--hair-strong)]'}`}
        style={{ height: PICTURE_PX + 2, ...(layer.visible ? {} : { opacity: 0.45 }) }}
        aria-label={`Picture of ${name}: drag it to another place`}
        onClick={onChoose}
      >
        <span className="absolute inset-0 grid place-items-center">
          <span className="relative inline-block leading-[0]">
            <canvas ref={canvas} data-view={`layer-${layer.id}`} style={{ height: PICTURE_PX, width: 'auto', maxWidth: 110 }} />
            {mark && <span className="pixel-dot" style={{ left: `${mark[0] * 100}%`, top: `${mark[1] * 100}%` }} />}
          </span>
        </span>
      </button>
      <div className="flex items-center h-[24px]">
        <Mark name={LAYER_MARKS[layer.kind]} className="soft mr-auto" />
        <LayerActs doc={doc} layer={layer} place={place} across />
      </div>
      <div className="overflow-y-auto min-h-0 flex-1">
        {parts.map((p) => (
          <PartChip key={p.id} part={p} />
        ))}
      </div>
    </li>
  );
}

function PartChip({ part }: { part: Part }) {
  const select = usePiece((s) => s.select);
  const selected = usePiece((s) => s.selected);
  const { setNodeRef, listeners, transform } = useDraggable({ id: `${PART}${part.id}`, disabled: part.locked });
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      className={`flex items-center gap-1 w-full text-left text-micro h-[24px] min-w-0 ${selected === part.id ? 'font-semibold' : ''}`}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)`, zIndex: 6, position: 'relative' } : undefined}
      title={part.name}
      onClick={() => select(part.id)}
    >
      <Mark name={PART_MARKS[part.kind]} className="soft" />
      <span className={`truncate ${part.visible ? '' : 'line-through'}`}>{part.name}</span>
    </button>
  );
}
