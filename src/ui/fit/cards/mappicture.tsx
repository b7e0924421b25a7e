'use client';
/** The picture of a map: the whole of it, or one channel in grey. */
import { useRef, useState } from 'react';
import { CHANNELS, type MapRole } from '@/core/finish';
import type { Stage } from '@/stage';
import { useDraw } from '../../piece/stagehooks';
import { useFitModels } from '../run';

/** Of a GLB, by what it has in a role; `role` null: a picture of Stock. */
export interface MapSource {
  sha: string;
  role: MapRole | null;
  material?: string;
}

const EDGE = 96;
export function paintMap(target: HTMLCanvasElement, image: ReturnType<Stage['mapImage']>, channel: 0 | 1 | 2 | 3 | null): boolean {
  const x = target.getContext('2d', { willReadFrequently: true });
  if (!image || image === 'compressed' || !x) return false;
  const scale = Math.min(1, EDGE / Math.max(image.width, image.height));
  const [w, h] = [Math.max(1, Math.round(image.width * scale)), Math.max(1, Math.round(image.height * scale))];
  target.width = w;
  target.height = h;
  x.drawImage(image, 0, 0, w, h);
  if (channel === null) return true;
  const pixels = x.getImageData(0, 0, w, h);
  for (let i = 0; i < pixels.data.length; i += 4) {
    const v = pixels.data[i + channel];
    pixels.data.set([v, v, v, 255], i);
  }
  x.putImageData(pixels, 0, 0);
  return true;
}

/** The whole, then each channel that means something of its own, named by what it does. */
export function MapPictures({ source, role, label }: { source: MapSource; role: MapRole; label: string }) {
  const models = useFitModels();
  const whole = useRef<HTMLCanvasElement>(null);
  const channels = useRef(new Map<number, HTMLCanvasElement>());
  const [size, setSize] = useState<string | null>(null);
  useDraw(
    async (stage) => {
      const image = stage.mapImage(source.sha, source.role, source.material);
      const none = stage.hasModel(source.sha) ? 'none' : '…';
      setSize(image === 'compressed' ? 'compressed for the graphics: not shown' : image ? `${image.width} × ${image.height}` : none);
      if (!whole.current || !paintMap(whole.current, image, null)) return;
      for (const [channel, canvas] of channels.current) paintMap(canvas, image, channel as 0 | 1 | 2 | 3);
      whole.current.dataset.drawn = 'yes';
    },
    [source.sha, source.role, source.material, models],
  );
  const there = size !== null && /×/.test(size);
  const box = 'block w-[38px] h-[38px] object-contain border border-[color:var(--hair)] bg-[color:var(--water)]';
  return (
    <span className="flex items-end gap-1.5">
      <span className="text-micro soft text-center leading-[13px]" hidden={!there}>
        <canvas ref={whole} className={box} data-map={label} />
        whole
      </span>
      {CHANNELS[role].map(([channel, means]) => (
        <span key={channel} className="text-micro soft text-center leading-[13px]" hidden={!there}>
          <canvas
            ref={(c) => {
              if (c) channels.current.set(channel, c);
              else channels.current.delete(channel);
            }}
            className={box}
            data-map={`${label}, ${means}`}
          />
          {means}
        </span>
      ))}
      <span className={`text-micro soft leading-[13px] ${there ? 'num pb-[14px]' : ''}`}>{size}</span>
    </span>
  );
}
