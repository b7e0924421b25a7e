/** BMP and DDS, pixel for pixel as ffmpeg decodes them. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { IntakeError } from '@/core/intake';
import { seededRandom } from '@/core/math';
import { pictureToPng } from '../convert';
import { readBmp, readDds } from './bitmaps';
import { decodePixels } from './picture';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-bitmaps-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { cwd: dir });
const bytesOf = (name: string) => new Uint8Array(readFileSync(join(dir, name)));
/** As ffmpeg reads it: RGBA. */
function theirs(name: string): Uint8Array {
  ffmpeg('-i', name, '-f', 'rawvideo', '-pix_fmt', 'rgba', `${name}.raw`);
  return bytesOf(`${name}.raw`);
}

/** A DDS of blocks, as the format's reference lays out its header; blocks are any bytes. */
function dds(kind: 'DXT1' | 'DXT3' | 'DXT5', width: number, height: number, blocks: Uint8Array): Uint8Array {
  const out = new Uint8Array(128 + blocks.length);
  const view = new DataView(out.buffer);
  const word = (at: number, s: string) => out.set(new TextEncoder().encode(s), at);
  word(0, 'DDS ');
  view.setUint32(4, 124, true);
  view.setUint32(8, 0x81007, true);
  view.setUint32(12, height, true);
  view.setUint32(16, width, true);
  view.setUint32(20, blocks.length, true);
  view.setUint32(76, 32, true);
  view.setUint32(80, 4, true);
  word(84, kind);
  view.setUint32(108, 0x1000, true);
  out.set(blocks, 128);
  return out;
}

describe('BMP', () => {
  test.each(['bgr24', 'bgra', 'rgb565le', 'pal8', 'gray'])('%s', (format) => {
    ffmpeg('-f', 'lavfi', '-i', 'testsrc=size=37x21', '-frames:v', '1', '-pix_fmt', format, `${format}.bmp`);
    const { width, height, data } = readBmp(bytesOf(`${format}.bmp`), 'a.bmp');
    expect([width, height]).toEqual([37, 21]);
    const other = theirs(`${format}.bmp`);
    expect(data.length).toBe(other.length);
    // five bits become eight in more than one way
    const slack = format === 'rgb565le' ? 8 : 0;
    let most = 0;
    for (let i = 0; i < other.length; i++) most = Math.max(most, Math.abs(data[i] - other[i]));
    expect(most).toBeLessThanOrEqual(slack);
  });
  test('one that says it is larger than its bytes can be is refused', () => {
    ffmpeg('-f', 'lavfi', '-i', 'testsrc=size=8x8', '-frames:v', '1', 'small.bmp');
    const bytes = bytesOf('small.bmp');
    new DataView(bytes.buffer).setInt32(18, 60_000, true);
    new DataView(bytes.buffer).setInt32(22, 60_000, true);
    expect(() => readBmp(bytes, 'small.bmp')).toThrow(IntakeError);
  });
});

describe('DDS', () => {
  test.each([
    ['DXT1', 8],
    ['DXT3', 16],
    ['DXT5', 16],
  ] as const)('%s, with an edge that no block ends at', (kind, size) => {
    const random = seededRandom(size);
    const blocks = Uint8Array.from({ length: Math.ceil(18 / 4) * Math.ceil(10 / 4) * size }, () => Math.floor(random() * 256));
    writeFileSync(join(dir, `${kind}.dds`), dds(kind, 18, 10, blocks));
    const { width, height, data } = readDds(bytesOf(`${kind}.dds`), 'a.dds');
    expect([width, height]).toEqual([18, 10]);
    const other = theirs(`${kind}.dds`);
    expect(data.length).toBe(other.length);
    let most = 0;
    // a decoder may round the two colours between as it likes
    for (let i = 0; i < other.length; i++) most = Math.max(most, Math.abs(data[i] - other[i]));
    expect(most).toBeLessThanOrEqual(4);
  });
});

test('beside a model they become PNG, by what they are and not by their name', async () => {
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=size=12x8', '-frames:v', '1', '-pix_fmt', 'bgr24', 'skin.bmp');
  const { width, height, data } = await decodePixels(await pictureToPng(bytesOf('skin.bmp'), 'skin.tga'));
  expect([width, height]).toEqual([12, 8]);
  expect(data).toEqual(theirs('skin.bmp'));
});
