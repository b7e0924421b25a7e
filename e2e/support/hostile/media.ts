/** Pictures, sounds, films, environments, motions and archives that lie, ask for much, or name what is not theirs. */
import { zipSync, zlibSync } from 'fflate';
import { be16, be32, bytes, flatPng, join, many, pngChunk, pngOf, text, u16, u32 } from './bytes';
import type { Kinds, Lures } from './index';

const zeros = (n: number) => zlibSync(new Uint8Array(n), { level: 9 });
const svg = (inside: string, attributes = 'width="8" height="8"') =>
  text(
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${attributes}>${inside}<rect width="4" height="4"/></svg>`,
  );

const PICTURES: Kinds = {
  'size-of-2e9.png': () => pngOf(2_147_483_647, 2_147_483_647, zeros(100)),
  'size-of-nothing.png': () => pngOf(0, 0, zeros(100)),
  'rows-too-many.png': () => pngOf(8, 8, zeros(200_000_000)),
  'profile-of-zeros.png': () => flatPng(8, 8, [pngChunk('iCCP', join('a\0\0', zeros(200_000_000)))]),
  'words-of-zeros.png': () => flatPng(8, 8, [pngChunk('zTXt', join('a\0\0', zeros(200_000_000)))]),
  'chunks.png': () => flatPng(8, 8, Array(50_000).fill(pngChunk('tEXt', text('a\0b')))),
  'interlaced.png': () => flatPng(8_000, 8_000, [], 1),
  'frames-of-4e9.png': () => flatPng(8, 8, [pngChunk('acTL', join(be32(0xffffffff), be32(0)))]),
  'size-of-65535.jpg': () =>
    join(
      [0xff, 0xd8, 0xff, 0xc0],
      be16(11),
      [8],
      be16(65535),
      be16(65535),
      [1, 1, 0x11, 0, 0xff, 0xda],
      be16(8),
      [1, 1, 0, 0, 63, 0],
      new Uint8Array(64),
    ),
  'remarks.jpg': () => join([0xff, 0xd8], ...Array(50_000).fill(join([0xff, 0xfe], be16(2))), [0xff, 0xd9]),
  'scans.jpg': () =>
    join(
      [0xff, 0xd8, 0xff, 0xc2],
      be16(11),
      [8],
      be16(8_000),
      be16(8_000),
      [1, 1, 0x11, 0],
      ...Array(20_000).fill(join([0xff, 0xda], be16(8), [1, 1, 0, 0, 0, 0x10])),
      [0xff, 0xd9],
    ),
  'size-of-65535.gif': () =>
    join(
      'GIF89a',
      u16(65535),
      u16(65535),
      [0x80, 0, 0, 0, 0, 0, 255, 255, 255],
      ...Array(5_000).fill(join([0x2c], u16(0), u16(0), u16(1), u16(1), [0, 2, 2, 0x44, 1, 0])),
      [0x3b],
    ),
  'frames.gif': () =>
    join(
      'GIF89a',
      u16(2_000),
      u16(2_000),
      [0x80, 0, 0, 0, 0, 0, 255, 255, 255],
      ...Array(100_000).fill(join([0x2c], u16(0), u16(0), u16(1), u16(1), [0, 2, 2, 0x44, 1, 0])),
      [0x3b],
    ),
  'size-of-16383.webp': () => join('RIFF', u32(40), 'WEBP', 'VP8L', u32(16), [0x2f, 0xff, 0xff, 0xff, 0x0f], new Uint8Array(27)),
  'sides-of-4e9.avif': () =>
    join(be32(20), 'ftypavif', be32(0), 'avif', be32(0xffffffff), 'meta', be32(0), be32(20), 'ispe', be32(0), be32(4e9), be32(4e9)),
  'ring.tif': () => join('II', u16(42), u32(8), u16(1), u16(256), u16(4), u32(1), u32(8), u32(8)),
  'size-of-4e9.tif': () =>
    join(
      'II',
      u16(42),
      u32(8),
      u16(5),
      ...[256, 257, 273, 278, 279].map((tag) => join(u16(tag), u16(4), u32(1), u32(tag === 273 ? 8 : 0x7fffffff))),
      u32(0),
    ),
  'size-of-30000.psd': () =>
    join('8BPS', be16(1), new Uint8Array(6), be16(3), be32(30_000), be32(30_000), be16(8), be16(3), new Uint8Array(64)),
  'size-of-65535.tga': () => bytes(60, { 2: [2], 12: [255, 255, 255, 255, 32, 8] }),
};

const DRAWINGS = ({ path, url }: Lures): Kinds => ({
  'filter.svg': () =>
    svg(
      '<filter id="f" x="-1000" y="-1000" width="9000" height="9000"><feTurbulence numOctaves="99" baseFrequency="0.9"/><feGaussianBlur stdDeviation="9999"/></filter><rect filter="url(#f)" width="8" height="8"/>',
      'width="3000" height="3000"',
    ),
  'uses.svg': () =>
    svg(
      `<defs><g id="a0"><rect width="1" height="1"/></g>${many(12, (i) => `<g id="a${i + 1}">${`<use xlink:href="#a${i}"/>`.repeat(10)}</g>`).join('')}</defs><use xlink:href="#a12"/>`,
    ),
  'use-in-itself.svg': () => svg('<g id="a"><use xlink:href="#a"/></g>'),
  'entities.svg': () =>
    text(
      `<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">${many(12, (i) => `<!ENTITY a${i} "${(i ? `&a${i - 1};` : '&a;').repeat(10)}">`).join('')}]><svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><text>&a11;</text></svg>`,
    ),
  'file.svg': () => svg(`<image xlink:href="file://${path}" width="8" height="8"/>`),
  'network.svg': () => svg(`<image href="${url}/a.png" width="8" height="8"/><style>@import url(${url}/a.css);</style>`),
  'included.svg': () => svg(`<xi:include xmlns:xi="http://www.w3.org/2001/XInclude" href="file://${path}" parse="text"/>`),
  'size-of-1e9.svg': () => svg('', 'width="1000000000" height="1000000000"'),
  'deep.svg': () => svg(`${'<g>'.repeat(60_000)}${'</g>'.repeat(60_000)}`),
  'pattern.svg': () =>
    svg(
      '<pattern id="p" width="0.0001" height="0.0001" patternUnits="userSpaceOnUse"><rect width="1" height="1"/></pattern><rect fill="url(#p)" width="2000" height="2000"/>',
      'width="2000" height="2000"',
    ),
  'path-of-4-mb.svg': () => svg(`<path d="M0 0${'L1 1 2 2'.repeat(500_000)}" stroke="#000" stroke-dasharray="0.001"/>`),
});

const OTHERS: Kinds = {
  'size-of-1e9.hdr': () => text('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 1000000000 +X 1000000000\n'),
  'rows-unended.hdr': () => join('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 8192 +X 16384\n', [2, 2, 0x40, 0], new Uint8Array(64)),
  'header-of-4-mb.hdr': () => text(`#?RADIANCE\n${'A=1\n'.repeat(1_000_000)}`),
  'window-of-2e9.exr': () =>
    join(
      [0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0],
      'dataWindow\0box2i\0',
      u32(16),
      u32(0),
      u32(0),
      u32(0x7ffffffe),
      u32(0x7ffffffe),
      'compression\0compression\0',
      u32(1),
      [0, 0],
      new Uint8Array(64),
    ),
  'attribute-of-2e9.exr': () => join([0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0], 'channels\0chlist\0', u32(0x7fffffff), new Uint8Array(64)),
  'data-of-4e9.wav': () =>
    join(
      'RIFF',
      u32(0xffffffff),
      'WAVE',
      'fmt ',
      u32(16),
      u16(1),
      u16(1),
      u32(8_000),
      u32(16_000),
      u16(2),
      u16(16),
      'data',
      u32(0xfffffffe),
      new Uint8Array(64),
    ),
  'rate-of-nothing.wav': () =>
    join('RIFF', u32(100), 'WAVE', 'fmt ', u32(16), u16(1), u16(1), u32(0), u32(0), u16(0), u16(0), 'data', u32(64), new Uint8Array(64)),
  'channels-of-65535.wav': () =>
    join(
      'RIFF',
      u32(100),
      'WAVE',
      'fmt ',
      u32(16),
      u16(1),
      u16(65535),
      u32(8_000),
      u32(0xffffffff),
      u16(65535),
      u16(8),
      'data',
      u32(64),
      new Uint8Array(64),
    ),
  'chunks.wav': () => join('RIFF', u32(800_004), 'WAVE', ...Array(100_000).fill(join('JUNK', u32(0)))),
  'noise.mp3': () =>
    join(
      'ID3',
      [4, 0, 0, 0x7f, 0x7f, 0x7f, 0x7f],
      many(4_000, (i) => (i * 7919) & 255),
    ),
  'frames.mp3': () => join('ID3', [4, 0, 0, 0, 0, 0, 0], ...Array(20_000).fill(join([0xff, 0xfb, 0x90, 0x00], new Uint8Array(20)))),
  'pages.ogg': () => join(...Array(50_000).fill(join('OggS', [0, 2], new Uint8Array(20), [0]))),
  'page-of-segments.ogg': () => join('OggS', [0, 2], new Uint8Array(20).fill(255), [255], new Uint8Array(255).fill(255)),
  'box-of-nothing.mp4': () => join(be32(20), 'ftypisom', be32(0), 'isom', ...Array(1_000).fill(join(be32(0), 'moov'))),
  'boxes-in-boxes.mp4': () => join(be32(20), 'ftypisom', be32(0), 'isom', ...many(20_000, (i) => join(be32((20_000 - i) * 8), 'moov'))),
  'box-of-2e64.mp4': () => join(be32(20), 'ftypisom', be32(0), 'isom', be32(1), 'moov', be32(0xffffffff), be32(0xffffffff)),
  'unended.webm': () =>
    join(
      [0x1a, 0x45, 0xdf, 0xa3, 0x80],
      ...Array(20_000).fill([0x18, 0x53, 0x80, 0x67, 0x01, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff].slice()),
    ),
  'deep.bvh': () => text(`HIERARCHY\nROOT a {\nOFFSET 0 0 0\nCHANNELS 0\n${'JOINT b {\nOFFSET 0 1 0\nCHANNELS 0\n'.repeat(30_000)}`),
  'frames-of-1e9.bvh': () =>
    text(
      'HIERARCHY\nROOT a {\nOFFSET 0 0 0\nCHANNELS 3 Xrotation Yrotation Zrotation\nEnd Site {\nOFFSET 0 1 0\n}\n}\nMOTION\nFrames: 1000000000\nFrame Time: 0.033\n0 0 0\n',
    ),
  'channels-of-1e9.bvh': () =>
    text('HIERARCHY\nROOT a {\nOFFSET 0 0 0\nCHANNELS 1000000000 Xrotation\n}\nMOTION\nFrames: 1\nFrame Time: 0\n0\n'),
  'no-time.bvh': () =>
    text(
      'HIERARCHY\nROOT a {\nOFFSET 0 0 0\nCHANNELS 3 Xrotation Yrotation Zrotation\nEnd Site {\nOFFSET 0 1 0\n}\n}\nMOTION\nFrames: 2\nFrame Time: 0\n0 0 0\n1e999 0 0\n',
    ),
};

const obj = text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');
/** Entries with names that a zip may have (APPNOTE, section 4.4.17) and nobody should follow. */
const named = (name: string) => () => zipSync({ [name]: obj, 'a.obj': obj });
const ARCHIVES = ({ path }: Lures): Kinds => ({
  'zeros.zip': () => zipSync({ 'a.obj': new Uint8Array(700_000_000) }, { level: 9 }),
  'zips-in-zips.zip': () => {
    let inner = zipSync({ 'a.obj': new Uint8Array(1_000_000) }, { level: 9 });
    for (let i = 0; i < 12; i++) inner = zipSync({ 'a.zip': inner, 'b.zip': inner });
    return inner;
  },
  'entries.zip': () => zipSync(Object.fromEntries(many(30_000, (i) => [`${i}.txt`, new Uint8Array()]))),
  'climbing.zip': named(`../../../../../../../..${path}.taken`),
  'absolute.zip': named(`${path}.taken`),
  'backslashes.zip': named('..\\..\\..\\a.obj'),
  'name-of-60000.zip': named(`${'n'.repeat(60_000)}.obj`),
  'link.zip': () => zipSync({ 'a.obj': [text(path), { os: 3, attrs: 0o120777 << 16 }] }),
  'sizes-of-4e9.zip': () => {
    const out = zipSync({ 'a.obj': obj });
    const d = new DataView(out.buffer);
    const end = out.length - 22;
    const entry = d.getUint32(end + 16, true);
    d.setUint32(entry + 24, 0xfffffffe, true);
    return out;
  },
  'offset-of-4e9.zip': () => {
    const out = zipSync({ 'a.obj': obj });
    new DataView(out.buffer).setUint32(out.length - 6, 0xfffffff0, true);
    return out;
  },
  'counts-of-65535.zip': () => {
    const out = zipSync({ 'a.obj': obj });
    out.set(u16(65535), out.length - 12);
    out.set(u16(65535), out.length - 14);
    return out;
  },
});

export const media = (lures: Lures): Kinds => ({ ...PICTURES, ...DRAWINGS(lures), ...OTHERS, ...ARCHIVES(lures) });
