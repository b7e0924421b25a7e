/** Files as their readers take them: what a header says is held against what follows. */
import { describe, expect, test } from 'vitest';
import { settleOff, settlePly } from './settle';

const text = (s: string) => new TextEncoder().encode(s);
const plain = (b: Uint8Array) => new TextDecoder('latin1').decode(b);
const code = (work: () => unknown) => {
  try {
    work();
  } catch (e) {
    return (e as { code: string }).code;
  }
  return null;
};

describe('OFF', () => {
  const CUBE = `OFF
# a cube
8 6 12  # counts

-1 -1 -1 # first
 1 -1 -1
 1  1 -1
-1  1 -1
-1 -1  1
 1 -1  1
 1  1  1
-1  1  1
4 0 3 2 1
4 4 5 6 7 # front
# between two faces
4 0 1 5 4 255 0 0
4 3 7 6 2
4 0 4 7 3
3 1 2 6
`;
  test('comments and empty lines go; its faces as fans are counted', () => {
    const { bytes, triangles } = settleOff(text(CUBE));
    expect(plain(bytes)).not.toContain('#');
    expect(plain(bytes).trim().split('\n')).toHaveLength(2 + 8 + 6);
    expect(triangles).toBe(5 * 2 + 1);
  });
  test('counts beside the key word', () => expect(settleOff(text('COFF 3 1 0\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n')).triangles).toBe(1));
  test('fewer lines than it says: refused', () => {
    expect(code(() => settleOff(text('OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n')))).toBe('off/truncated');
    expect(code(() => settleOff(text('OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n')))).toBeNull();
  });
  test('what is no list of lines is left to the reader', () => {
    const all = `OFF 3 1 0\n${'0 0 0 1 0 0 0 1 0 3 0 1 2 '.repeat(2)}\n`;
    expect(settleOff(text(all)).triangles).toBeNull();
  });
});

describe('binary PLY', () => {
  function ply(format: string, types: readonly string[], rows: readonly (readonly number[])[], tail: readonly number[] = []): Uint8Array {
    const little = format.includes('little');
    const head = `ply\nformat ${format} 1.0\nelement vertex ${rows.length}\n${types.map((t, i) => `property ${t} ${'xyzw'[i] ?? `p${i}`}\n`).join('')}${tail.length ? 'element face 1\nproperty list uchar int vertex_indices\n' : ''}end_header\n`;
    const out: number[] = [...text(head)];
    const view = new DataView(new ArrayBuffer(8));
    const put = (size: number) => {
      for (let i = 0; i < size; i++) out.push(view.getUint8(i));
    };
    for (const row of rows)
      row.forEach((x, i) => {
        if (types[i] === 'double') view.setFloat64(0, x, little);
        else if (types[i] === 'float') view.setFloat32(0, x, little);
        else view.setUint8(0, x);
        put({ double: 8, float: 4, uchar: 1 }[types[i]] as number);
      });
    return Uint8Array.from([...out, ...tail]);
  }
  const rows = [
    [1.5, -2.25, 3, 7],
    [0.125, 4, -1e3, 9],
  ];
  test.each(['binary_little_endian', 'binary_big_endian'])('%s: doubles become floats, all else stays', (format) => {
    const tail = [3, 0, 0, 0, 1, 0, 0, 0, 2, 0, 0, 0, 0];
    const was = ply(format, ['double', 'double', 'double', 'uchar'], rows, tail);
    expect(settlePly(was)).toEqual(ply(format, ['float', 'float', 'float', 'uchar'], rows, tail));
  });
  test('floats and text come back as they are', () => {
    const floats = ply('binary_little_endian', ['float', 'float', 'float', 'uchar'], rows);
    expect(settlePly(floats)).toBe(floats);
    const ascii = text('ply\nformat ascii 1.0\nelement vertex 1\nproperty double x\nend_header\n1\n');
    expect(settlePly(ascii)).toBe(ascii);
  });
  test('one byte less than its vertices take: refused, of floats as of doubles', () => {
    for (const type of ['float', 'double']) {
      const whole = ply('binary_little_endian', [type, type, type, 'uchar'], rows);
      expect(code(() => settlePly(whole))).toBeNull();
      expect(code(() => settlePly(whole.subarray(0, -1)))).toBe('ply/truncated');
    }
  });
});
