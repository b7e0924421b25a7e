import { Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { plateCamera } from '@/stage/camera';
import { spareText } from '../kit/waterline';
import { segmentMm } from './platemarks';

describe('segmentMm', () => {
  test('10 mm at ordinary scales, 1 mm close up, coarser where 10 mm would crowd', () => {
    expect(segmentMm(1.45)).toBe(10);
    expect(segmentMm(7)).toBe(1);
    expect(segmentMm(0.5)).toBe(50);
    expect(segmentMm(0.016)).toBe(1000);
  });
  test('a segment is never under 9 px down to the farthest zoom', () => {
    for (let k = 0.002; k < 40; k *= 1.07) expect(segmentMm(k) * k).toBeGreaterThanOrEqual(k > 6 ? 6 : 9);
  });
});

describe('plateCamera', () => {
  const size = { width: 200, height: 100, ratio: 1 };
  const pixel = (window: Parameters<typeof plateCamera>[0], v: [number, number, number]) => {
    const p = new Vector3(...v).project(plateCamera(window, size));
    return [((p.x + 1) / 2) * 200, ((1 - p.y) / 2) * 100].map((x) => Math.round(x * 1000) / 1000);
  };
  test('front: the wearer’s left is the picture’s right, up is up, at the scale it says', () => {
    const window = { side: 'front' as const, acrossMm: 0, upMm: 0, pxPerMm: 2 };
    expect(pixel(window, [0, 0, 0])).toEqual([100, 50]);
    expect(pixel(window, [0.01, 0.005, 0.3])).toEqual([120, 40]);
  });
  test('side, from the wearer’s left: fore is the picture’s left', () => {
    const window = { side: 'side' as const, acrossMm: 30, upMm: -10, pxPerMm: 1 };
    expect(pixel(window, [0.5, -0.01, 0.03])).toEqual([100, 50]);
    expect(pixel(window, [0, 0, 0.04])).toEqual([90, 40]);
  });
});

describe('spareText', () => {
  test('says what is to spare, or by how much it is over', () => {
    expect(spareText(300_000, 5_000_000)).toBe('4.7 MB to spare');
    expect(spareText(7_800_000, 5_000_000)).toBe('2.8 MB over the line');
    expect(spareText(5_000_000, 5_000_000)).toBe('0.0 MB to spare');
  });
});
