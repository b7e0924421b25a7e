import { describe, expect, test } from 'vitest';
import { bytesWithMips, USEFUL_TEXELS_PER_MM, USUAL_EDGE, usefulEdge } from './textures';

describe('memory on a device (common practice)', () => {
  test('a 1024² RGBA picture is 4 194 304 bytes, 5 592 404 with its smaller copies', () => {
    expect(1024 * 1024 * 4).toBe(4_194_304);
    expect(bytesWithMips(1024, 1024)).toBe(5_592_404);
  });
  test('one pixel is four bytes; a strip goes down to one pixel as well; nothing is nothing', () => {
    expect(bytesWithMips(1, 1)).toBe(4);
    expect(bytesWithMips(4, 1)).toBe(4 * (4 + 2 + 1));
    expect(bytesWithMips(0, 8)).toBe(0);
  });
});

describe('usefulEdge', () => {
  test('1024 px is a usual ceiling, whatever the density', () => expect(usefulEdge(4096, 0)).toBe(USUAL_EDGE));
  test('at the density a phone shows nothing is to be gained', () => expect(usefulEdge(1024, USEFUL_TEXELS_PER_MM)).toBe(1024));
  test('at four times that a quarter is enough, in powers of two, and never under 256', () => {
    expect(usefulEdge(1024, USEFUL_TEXELS_PER_MM * 4)).toBe(256);
    expect(usefulEdge(1024, USEFUL_TEXELS_PER_MM * 1.5)).toBe(1024);
    expect(usefulEdge(512, USEFUL_TEXELS_PER_MM * 100)).toBe(256);
    expect(usefulEdge(64, USEFUL_TEXELS_PER_MM * 100)).toBe(64);
  });
});
