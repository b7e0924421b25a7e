import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { frameGroups, gapFindings, naturalOrder } from '../intake/media/frames';
import type { Pixels } from '../math/pixels';
import { readModel } from '../model/model';
import { nodeMatrices, poseAt } from '../model/pose';
import { sequencePlane } from './plane';
import { putFrame, sheetLayout, takeFrame } from './sheet';

describe('a sheet', () => {
  test('gives every frame back bit by bit', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 30 }),
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 9 }),
        fc.nat(250),
        (count, width, height, seed) => {
          const frames = Array.from(
            { length: count },
            (_, f): Pixels => ({
              width,
              height,
              data: Uint8Array.from({ length: width * height * 4 }, (_x, i) => (i * 31 + f * 97 + seed) % 256),
            }),
          );
          const layout = sheetLayout(count, width, height, 2048);
          expect(layout.scale).toBe(1);
          const sheet: Pixels = { width: layout.width, height: layout.height, data: new Uint8Array(layout.width * layout.height * 4) };
          for (const [i, f] of frames.entries()) putFrame(sheet, f, layout, i);
          for (const [i, f] of frames.entries()) expect(takeFrame(sheet, layout, i).data).toEqual(f.data);
        },
      ),
      { numRuns: 80 },
    );
  });
  test('never passes its limit, holds every frame, and is the best of all grids', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 200 }),
        fc.integer({ min: 1, max: 2000 }),
        fc.integer({ min: 1, max: 2000 }),
        fc.constantFrom(512, 1024, 4096),
        (n, w, h, edge) => {
          const s = sheetLayout(n, w, h, edge);
          expect(Math.max(s.width, s.height)).toBeLessThanOrEqual(Math.max(edge, s.columns, s.rows));
          expect(s.columns * s.rows).toBeGreaterThanOrEqual(n);
          for (let c = 1; c <= n; c++)
            expect(Math.min(1, edge / (c * w), edge / (Math.ceil(n / c) * h))).toBeLessThanOrEqual(s.scale + 1e-12);
        },
      ),
      { numRuns: 60 },
    );
  });
  test('16 frames of 96 px lie four by four', () =>
    expect(sheetLayout(16, 96, 96, 2048)).toMatchObject({ columns: 4, rows: 4, width: 384, height: 384 }));
});

describe('numbered frames', () => {
  test('f2 comes before f10, in sorting and in sequences', () => {
    expect(['f10.png', 'f2.png', 'f1.png'].sort(naturalOrder)).toEqual(['f1.png', 'f2.png', 'f10.png']);
    expect(frameGroups(['a/f10.png', 'a/f2.png', 'a/f1.png', 'a/f3.png', 'a/f4.png'])[0].frames).toEqual([
      'a/f1.png',
      'a/f2.png',
      'a/f3.png',
      'a/f4.png',
      'a/f10.png',
    ]);
  });
  test('gaps are found by the usual step; counting by fives has none', () => {
    expect(frameGroups(['s_01.png', 's_02.png', 's_04.png', 's_05.png', 's_08.png'])[0].gaps).toEqual([3, 6, 7]);
    expect(frameGroups(['s0.png', 's5.png', 's10.png', 's15.png'])[0].gaps).toEqual([]);
    expect(gapFindings([3], []).map((f) => f.message)[0]).toBe('A frame is missing: number 3. It plays on without it.');
  });
  test('two files, sizes of an icon, other endings and other folders are no sequence', () => {
    expect(frameGroups(['eye1.png', 'eye2.png'])).toEqual([]);
    expect(frameGroups(['icon16.png', 'icon32.png', 'icon64.png', 'icon256.png'])).toEqual([]);
    expect(frameGroups(['a1.png', 'a2.jpg', 'b/a3.png'])).toEqual([]);
    expect(frameGroups(['color.png', 'normal.png', 'rough.png'])).toEqual([]);
  });
});

describe('a sequence as a clip of planes', () => {
  const picture = { bytes: new Uint8Array([1]), mime: 'image/png', alpha: 'soft' } as const;
  const shownAt = (count: number, fps: number, loop: boolean, timeS: number) => {
    const model = readModel(sequencePlane('s', picture, sheetLayout(count, 8, 8, 64), count, { fps, loop }, [10, 10]));
    const m = nodeMatrices(model, poseAt(model, 0, timeS));
    return model.nodes.flatMap((n, i) => (n.mesh >= 0 && m[i].getMaxScaleOnAxis() > 0 ? [n.name] : []));
  };
  test('shows exactly the frame of the moment, whatever the rate', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 24 }),
        fc.constantFrom(8, 12, 24, 29.97, 60),
        fc.double({ min: 0, max: 5, noNaN: true }),
        (n, fps, t) => {
          const inRound = t - Math.floor(t / (n / fps)) * (n / fps);
          const expected = Math.floor(inRound * fps);
          // at the very border of two frames either is right
          if (Math.abs(inRound * fps - Math.round(inRound * fps)) < 1e-3) return;
          const shown = shownAt(n, fps, true, t);
          expect(shown).toHaveLength(1);
          expect(Number(shown[0].replace('frame ', ''))).toBe(expected + 1);
        },
      ),
      { numRuns: 150 },
    );
  });
  test('played once, it stays at its last frame', () => {
    expect(shownAt(5, 10, false, 7)).toEqual(['frame 5']);
    expect(shownAt(5, 10, true, 7.05)).toEqual(['frame 1']);
  });
});
