import { describe, expect, test } from 'vitest';
import { parseBytes, parseQuantity, seededRandom, showBytes, showBytesFinely, showCount, showMegabytes, showQuantity } from './index';

const mm = (text: string, present = 0) => {
  const r = parseQuantity(text, 'length', 'mm', present);
  return r.ok ? r.value * 1000 : r.message;
};

describe('parseQuantity', () => {
  test.each([
    ['14.2cm', 142],
    ['5 1/2 in', 139.7], // 5.5 × 25.4, the international inch
    ['142/2', 71],
    ['1.4 cm', 14],
    ['10 + 4', 14],
    ['2*(3+4)', 14],
    ['1cm + 4', 14], // a plain number beside a unit counts in the field's unit
    ['-3', -3],
    ['−3', -3],
    ['.5', 0.5],
    ['1e2', 100],
    ['2 ft', 609.6],
    ['3/4 in', 19.05],
  ])('%s is %d mm', (text, want) => expect(mm(text)).toBeCloseTo(want, 9));

  test('a leading + adds to what is there; a leading minus is a negative value', () => {
    expect(mm('+0.5', 0.01)).toBeCloseTo(10.5, 9);
    expect(mm('-0.5', 0.01)).toBeCloseTo(-0.5, 9);
  });

  test('a comma is a point; plain numbers are whatever the field names, and add up', () => {
    expect(parseQuantity('14,2 mm', 'length', 'mm')).toEqual(parseQuantity('14.2 mm', 'length', 'mm'));
    expect(parseQuantity('1024/2 px', 'count', '')).toEqual({ ok: true, value: 512 });
    expect(parseQuantity('+8', 'count', '', 14)).toEqual({ ok: true, value: 22 });
    expect(parseQuantity('3 kg', 'count', '')).toMatchObject({ ok: false });
  });
  test('angles: degrees, radians, turns', () => {
    for (const text of ['90', '90°', '90deg', '0.25turn', `${Math.PI / 2}rad`]) {
      const r = parseQuantity(text, 'angle', '°');
      expect(r.ok && r.value).toBeCloseTo(Math.PI / 2, 12);
    }
  });

  test.each(['', 'abc', '5 kg', '3 +', '(3', '3 3 3', '4/0', '1cm cm', '$5', '1e999'])('%s is refused with a sentence', (text) => {
    const r = parseQuantity(text, 'length', 'mm');
    expect(r.ok).toBe(false);
    expect(!r.ok && r.message.endsWith('.')).toBe(true);
  });

  test('what is shown is read back', () => {
    for (const v of [-0.1234, 0, 0.00005, 3.2]) {
      const r = parseQuantity(showQuantity(v, 'length', 'mm', 4), 'length', 'mm');
      expect(r.ok && r.value).toBeCloseTo(v, 7);
    }
  });
});

describe('showing numbers', () => {
  test('a true minus, no minus zero, fixed decimals', () => {
    expect(showQuantity(-0.0024, 'length', 'mm', 1)).toBe('−2.4');
    expect(showQuantity(-0.00001, 'length', 'mm', 1)).toBe('0.0');
  });
  test('1 MB is 1 000 000 bytes', () => {
    expect(showMegabytes(5_000_000)).toBe('5.0');
    expect(showMegabytes(42_000)).toBe('0.04');
    expect(showMegabytes(4_132)).toBe('0.004');
    expect(showMegabytes(0)).toBe('0.0');
    expect(showCount(1234567)).toBe('1\u2009234\u2009567');
  });
});

describe('seededRandom', () => {
  test('the same seed gives the same row, within [0, 1)', () => {
    const [a, b] = [seededRandom(7), seededRandom(7)];
    for (let i = 0; i < 100; i++) {
      const x = a();
      expect(x).toBe(b());
      expect(x >= 0 && x < 1).toBe(true);
    }
  });
});

describe('bytes', () => {
  test.each([
    ['800000', 800_000],
    ['1MB', 1_000_000],
    ['1.5 MiB', 1_572_864],
    ['2kb', 2_000],
    ['much', null],
    ['1 meg', null],
    ['-5', null],
  ])('%s is %s', (text, bytes) => expect(parseBytes(text)).toBe(bytes));
  test.each([
    [0, '0 bytes'],
    [999, '999 bytes'],
    [12_345, '12.3 kB'],
    [-2_000, '-2.0 kB'],
    [1_250_000, '1.3 MB'],
  ])('%s bytes are shown as %s', (bytes, text) => expect(showBytes(bytes)).toBe(text));
});

describe('sizes that are compared', () => {
  test.each([
    [-8, '-8 bytes'],
    [56_800, '56.8 kB'],
    [234_567, '235 kB'],
    [-234_567, '-235 kB'],
    [999_400, '999 kB'],
    [999_600, '1.00 MB'],
    [5_592_404, '5.59 MB'],
  ])('%s bytes are shown as %s', (bytes, text) => expect(showBytesFinely(bytes)).toBe(text));
});
