'use client';
import { useEffect, useRef } from 'react';
import type { Pixels } from '@/core/intake';

/** Pixels as they are, on a canvas of their size. */
export function PixelCanvas({
  pixels,
  label,
  view,
  className,
}: {
  pixels: Pixels | null;
  label: string;
  view: string;
  className?: string;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const c = ref.current;
    if (!c || !pixels) return;
    c.width = pixels.width;
    c.height = pixels.height;
    c.getContext('2d', { willReadFrequently: true })?.putImageData(
      new ImageData(new Uint8ClampedArray(pixels.data), pixels.width, pixels.height),
      0,
      0,
    );
    c.dataset.drawn = String(Number(c.dataset.drawn ?? 0) + 1);
  }, [pixels]);
  return <canvas ref={ref} role="img" aria-label={label} data-view={view} className={className} />;
}

/** A stock picture's pixels, at most `edge` wide or high; null until they are there. */
export async function pixelsOf(source: Blob, edge = 4096): Promise<Pixels> {
  const bitmap = await createImageBitmap(source, { premultiplyAlpha: 'none', colorSpaceConversion: 'none' });
  const scale = Math.min(1, edge / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [Math.max(1, Math.round(bitmap.width * scale)), Math.max(1, Math.round(bitmap.height * scale))];
  const canvas = document.createElement('canvas');
  canvas.width = width;
  canvas.height = height;
  const g = canvas.getContext('2d', { willReadFrequently: true });
  if (!g) throw new Error('This browser has no 2D canvas.');
  g.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const { data } = g.getImageData(0, 0, width, height);
  return { width, height, data: new Uint8Array(data.buffer) };
}
