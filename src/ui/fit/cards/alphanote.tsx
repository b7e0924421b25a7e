'use client';
/** Whether a finish makes right use of its picture's alpha; the press that would. */
import { useState } from 'react';
import { type AlphaShares, alphaFault, type FinishRow, readAlpha } from '@/core/finish';
import { drawnModel } from '@/core/piece';
import { Flag } from '../../kit';
import { useDocument } from '../../piece/context';
import { useDraw } from '../../piece/stagehooks';
import { useFitModels } from '../run';

const EDGE = 128;

/** @param sha and material: whose own picture it may wear; null: of no file */
export function AlphaNote({
  finish,
  sha,
  material,
  onFix,
}: {
  finish: FinishRow;
  sha: string | null;
  material: string;
  onFix: (fix: Partial<FinishRow>) => void;
}) {
  const doc = useDocument();
  const models = useFitModels();
  const [alpha, setAlpha] = useState<{ of: string; shares: AlphaShares | null } | null>(null);
  const { base } = finish.maps;
  const file = base && base !== 'own' ? drawnModel(doc, base.stock) : base === 'own' ? sha : null;
  const of = `${file} ${base === 'own' ? material : ''}`;
  useDraw(
    async (stage) => {
      const image = file === null ? null : stage.mapImage(file, base === 'own' ? 'base' : null, material);
      // of what cannot be read nothing is said
      if (image === 'compressed' || (file !== null && !stage.hasModel(file))) return setAlpha(null);
      setAlpha({ of, shares: image && sharesOf(image) });
    },
    [of, models],
  );
  const fault = alpha?.of === of ? alphaFault(finish, alpha.shares) : null;
  if (!fault) return null;
  return (
    <p className="flex items-start gap-1.5 text-micro py-1" data-alpha-fault>
      <Flag kind="warning" size={13} />
      <span>
        {fault.message}{' '}
        <button type="button" className="btn btn-line btn-sm btn-tight" onClick={() => onFix(fault.fix)}>
          {fault.press}
        </button>
      </span>
    </p>
  );
}

function sharesOf(image: CanvasImageSource & { width: number; height: number }): AlphaShares | null {
  const scale = Math.min(1, EDGE / Math.max(image.width, image.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(image.width * scale));
  canvas.height = Math.max(1, Math.round(image.height * scale));
  const x = canvas.getContext('2d', { willReadFrequently: true });
  if (!x) return null;
  // edges are not softened by making it smaller
  x.imageSmoothingEnabled = false;
  x.drawImage(image, 0, 0, canvas.width, canvas.height);
  return readAlpha(x.getImageData(0, 0, canvas.width, canvas.height).data);
}
