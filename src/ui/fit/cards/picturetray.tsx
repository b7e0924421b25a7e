'use client';
/** Pictures of Stock to be dragged onto a role. */
import { useRef } from 'react';
import { drawnModel, type StockItem } from '@/core/piece';
import { useDocument } from '../../piece/context';
import { useDraw } from '../../piece/stagehooks';
import { useFitModels } from '../run';
import { paintMap } from './mappicture';

const TYPE = 'application/x-scaphos-picture';
/** The stock id of a picture that is dragged; null: something else is. */
export const pictureHeld = (data: DataTransfer): string | null => data.getData(TYPE) || null;

export function PictureTray({ pictures }: { pictures: readonly StockItem[] }) {
  if (pictures.length === 0) return <p className="soft text-micro">Pictures that are brought into Stock can be chosen here.</p>;
  return (
    <ul className="flex flex-wrap gap-1.5 py-1.5" aria-label="Pictures of Stock">
      {pictures.map((p) => (
        <Thumb key={p.id} picture={p} />
      ))}
    </ul>
  );
}

function Thumb({ picture }: { picture: StockItem }) {
  const doc = useDocument();
  const models = useFitModels();
  const canvas = useRef<HTMLCanvasElement>(null);
  const sha = drawnModel(doc, picture.id);
  useDraw(
    async (stage) => {
      if (canvas.current && sha) paintMap(canvas.current, stage.mapImage(sha, null), null);
    },
    [sha, models],
  );
  return (
    <li
      className="flex items-center gap-1 text-micro border border-[color:var(--hair-strong)] bg-[color:var(--paper)] pr-1.5 cursor-grab max-w-[150px]"
      draggable
      title={`Drag ${picture.name} onto a role`}
      onDragStart={(e) => {
        e.dataTransfer.setData(TYPE, picture.id);
        e.dataTransfer.effectAllowed = 'copy';
      }}
    >
      <canvas ref={canvas} className="block w-[24px] h-[24px] object-cover bg-[color:var(--water)]" />
      <span className="truncate" dir="auto">
        {picture.name}
      </span>
    </li>
  );
}
