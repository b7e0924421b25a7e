/** Readers of stock files that are no models, on files nobody here made and on files made to harm. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateSync } from 'node:zlib';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { writePsdBuffer } from 'ag-psd';
import { validateBytes } from 'gltf-validator';
import sharp from 'sharp';
import { afterAll, describe, expect, test } from 'vitest';
import { type MediaFacts, readModel, readRgbe } from '@/core/intake';
import type { StepDraft } from '@/core/piece';
import { takeFrame } from '@/core/prepare';
import { bellWav, flameFrame, flameZip, pennantPng, walkBvh, wav } from '../../../../demo/media';
import { CLIP_FBX } from '../../../../e2e/support/clip-fbx';
import { runIntake } from '../intake';
import { prepareMedia, readMedia } from './index';
import { decodePixels } from './picture';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-media-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { cwd: dir });
const probe = (file: string, ...fields: string[]) =>
  execFileSync('ffprobe', ['-v', 'error', '-show_entries', fields.join(':'), '-of', 'json', join(dir, file)], { encoding: 'utf8' });
const made = (file: string) => new Uint8Array(readFileSync(join(dir, file)));

async function read<K extends MediaFacts['kind']>(kind: K, name: string, bytes: Uint8Array) {
  const done = await readMedia(name, bytes);
  if (done?.facts.kind !== kind) throw new Error(`${name} was read as ${done?.facts.kind}`);
  return { ...done, facts: done.facts as Extract<MediaFacts, { kind: K }> };
}
const refused = async (name: string, bytes: Uint8Array): Promise<string> => {
  const error = (await readMedia(name, bytes).then(
    () => null,
    (e: unknown) => e,
  )) as { code?: string } | null;
  return error?.code ?? 'read';
};
const codes = (f: { findings: { code: string }[] }) => f.findings.map((x) => x.code);
const source = (kind: 'picture' | 'sequence' | 'sound', name: string, bytes: Uint8Array) => ({ kind, name, bytes, frames: null });

describe('pictures of every format', () => {
  const rgb = { width: 40, height: 24, channels: 3, background: { r: 200, g: 40, b: 30 } } as const;
  const red = () => sharp({ create: rgb });
  test.each([
    ['a.png', () => red().png().toBuffer()],
    ['a.jpg', () => red().jpeg({ quality: 100 }).toBuffer()],
    ['a.webp', () => red().webp({ lossless: true }).toBuffer()],
    ['a.avif', () => red().avif({ quality: 100 }).toBuffer()],
    ['a.gif', () => red().gif().toBuffer()],
    ['a.tif', () => red().tiff().toBuffer()],
    [
      'a.svg',
      async () =>
        new TextEncoder().encode(
          '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 24"><rect width="40" height="24" fill="rgb(200,40,30)"/></svg>',
        ),
    ],
    [
      'a.psd',
      async () => {
        const data = new Uint8ClampedArray(40 * 24 * 4);
        for (let i = 0; i < data.length; i += 4) data.set([200, 40, 30, 255], i);
        return writePsdBuffer(
          { width: 40, height: 24, imageData: { width: 40, height: 24, data } as ImageData, children: [] },
          { noBackground: true },
        );
      },
    ],
  ] as [string, () => Promise<Uint8Array>][])('%s is red when it is used', async (name, make) => {
    const { facts, blobs } = await read('picture', name, new Uint8Array(await make()));
    expect(facts.width / facts.height).toBeCloseTo(40 / 24, 2);
    const { data } = await decodePixels(blobs[0]);
    const middle = data.slice((12 * facts.width + 20) * 4, (12 * facts.width + 20) * 4 + 3);
    [200, 40, 30].forEach((c, k) => {
      expect(Math.abs(middle[k] - c)).toBeLessThanOrEqual(6);
    });
    expect(['image/png', 'image/jpeg', 'image/webp']).toContain(facts.type);
    const report = await validateBytes(blobs[1]);
    expect(report.issues.numErrors).toBe(0);
  });
  test('an SVG is drawn at the size that is asked for, not enlarged', async () => {
    const svg = new TextEncoder().encode(
      '<svg xmlns="http://www.w3.org/2000/svg" width="20" height="10"><circle cx="10" cy="5" r="4"/></svg>',
    );
    const { facts, blobs } = await prepareMedia(source('picture', 'a.svg', svg), [{ step: 'raster', settings: { width: 800 } }]);
    expect(facts).toMatchObject({ width: 800, height: 400, alpha: 'cut-out' });
    // an enlarged drawing of 20 px would have an edge tens of pixels wide
    const { data } = await decodePixels(blobs[0]);
    let partly = 0;
    for (let x = 0; x < 800; x++) if (data[(200 * 800 + x) * 4 + 3] % 255 !== 0) partly++;
    expect(partly).toBeLessThan(12);
  });
  test('a photograph lying on its side stands up; CMYK and a wide profile become sRGB', async () => {
    const lying = await sharp({ create: { ...rgb } })
      .jpeg()
      .withMetadata({ orientation: 6 })
      .toBuffer();
    expect((await read('picture', 'a.jpg', lying)).facts).toMatchObject({ width: 24, height: 40, type: 'image/png' });
    const cmyk = await red().toColourspace('cmyk').jpeg().toBuffer();
    expect((await read('picture', 'b.jpg', cmyk)).facts).toMatchObject({ space: 'cmyk', type: 'image/png' });
    const wide = await red().withIccProfile('p3').png().toBuffer();
    const { facts } = await read('picture', 'c.png', wide);
    expect(facts.profile).toMatch(/P3/i);
    expect(codes(facts)).toContain('picture/profile');
    const after = await prepareMedia(
      source('picture', 'c.png', wide),
      facts.findings.flatMap((f): StepDraft[] => (f.fix ? [f.fix] : [])),
    );
    expect(codes(after.facts)).not.toContain('picture/profile');
  });
  test('grey with alpha, 16 bits a channel and 16 384 px an edge: taken, and what is unusual is said', async () => {
    const grey = await sharp(Buffer.from([200, 255, 90, 0]), { raw: { width: 2, height: 1, channels: 2 } })
      .png()
      .toBuffer();
    const taken = await read('picture', 'grey.png', grey);
    expect(taken.facts).toMatchObject({ look: 'grey', hasAlpha: true, alphaMin: 0, type: 'image/png' });
    const used = await sharp(taken.blobs.find((b) => b[0] === 0x89) ?? grey)
      .ensureAlpha()
      .raw()
      .toBuffer();
    expect([...used.subarray(0, 4), used[7]].map((v) => (v > 250 ? 255 : v))).toEqual([200, 200, 200, 255, 0]);
    const deep = await sharp({ create: { ...rgb, width: 8, height: 8 } })
      .toColourspace('rgb16')
      .png()
      .toBuffer();
    expect((await read('picture', 'deep.png', deep)).facts).toMatchObject({ bitsPerChannel: 16, width: 8, type: 'image/png' });
    const long = await sharp({ create: { ...rgb, width: 16_384, height: 4 } })
      .png()
      .toBuffer();
    const { facts } = await read('picture', 'long.png', long);
    expect([facts.width, codes(facts).includes('picture/large')]).toEqual([16_384, true]);
  });
  test('density says the size: 300 pixels an inch, 600 wide, is two inches', async () => {
    const png = await sharp({ create: { ...rgb, width: 600, height: 300 } })
      .withMetadata({ density: 300 })
      .png()
      .toBuffer();
    const { facts } = await read('picture', 'a.png', png);
    expect(facts.sizeMm[0]).toBeCloseTo(50.8, 0);
  });
  test('every fix of a picture takes its finding away, twice gives the same, and it hangs at the width that is typed', async () => {
    const bytes = await pennantPng();
    const { facts } = await read('picture', 'pennant.png', bytes);
    expect(codes(facts)).toEqual(['picture/fringe', 'picture/heavy']);
    for (const f of facts.findings) {
      const once = await prepareMedia(source('picture', 'pennant.png', bytes), [f.fix as StepDraft]);
      expect(codes(once.facts)).not.toContain(f.code);
      expect((await prepareMedia(source('picture', 'pennant.png', bytes), [f.fix as StepDraft])).model).toBe(once.model);
    }
    const hung = await prepareMedia(source('picture', 'pennant.png', bytes), [{ step: 'plane', settings: { widthMm: 120 } }]);
    const model = readModel(await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(hung.blobs[1]));
    const x = model.meshes[0].primitives[0].positions.filter((_, i) => i % 3 === 0);
    expect(Math.max(...x) - Math.min(...x)).toBeCloseTo(0.12, 6);
    const webp = await prepareMedia(source('picture', 'pennant.png', bytes), [
      { step: 'encode', settings: { format: 'webp', quality: 90 } },
    ]);
    expect((await validateBytes(webp.blobs[1])).issues.numErrors).toBe(0);
  });
});

describe('pictures made to harm', () => {
  /** A PNG whose header says anything. */
  function pngOf(width: number, height: number): Uint8Array {
    const table = Array.from({ length: 256 }, (_, n) => {
      let c = n;
      for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
      return c >>> 0;
    });
    const chunk = (type: string, data: Uint8Array) => {
      const body = new Uint8Array([...new TextEncoder().encode(type), ...data]);
      let c = 0xffffffff;
      for (const b of body) c = table[(c ^ b) & 255] ^ (c >>> 8);
      const out = new Uint8Array(body.length + 8);
      new DataView(out.buffer).setUint32(0, data.length);
      out.set(body, 4);
      new DataView(out.buffer).setUint32(body.length + 4, (c ^ 0xffffffff) >>> 0);
      return out;
    };
    const head = new Uint8Array(13);
    new DataView(head.buffer).setUint32(0, width);
    new DataView(head.buffer).setUint32(4, height);
    head.set([8, 6, 0, 0, 0], 8);
    const parts = [
      new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]),
      chunk('IHDR', head),
      chunk('IDAT', deflateSync(new Uint8Array(100))),
      chunk('IEND', new Uint8Array()),
    ];
    return new Uint8Array(parts.flatMap((p) => [...p]));
  }
  test('a PNG of 60 000 × 60 000 is refused by its header, with its numbers', async () => {
    await expect(readMedia('huge.png', pngOf(60_000, 60_000))).rejects.toMatchObject({
      code: 'picture/too-large',
      message: expect.stringContaining('60000 × 60000'),
    });
  });
  test('a PNG that ends half way, and noise named as one, are refused', async () => {
    expect(await refused('cut.png', (await pennantPng()).slice(0, 9000))).toBe('picture/unreadable');
    expect(await refused('cut.png', pngOf(50, 50))).toBe('picture/unreadable');
  });
  test('an SVG with a script, a file of the machine and a bomb is drawn without any of them', async () => {
    const svg = `<!DOCTYPE svg [<!ENTITY a "${'x'.repeat(1000)}"><!ENTITY b "${'&a;'.repeat(1000)}"><!ENTITY c "${'&b;'.repeat(1000)}"><!ENTITY f SYSTEM "file:///etc/passwd">]>
      <svg xmlns="http://www.w3.org/2000/svg" width="64" height="64" onload="x()"><script>x()</script><text>&c;&f;</text>
      <image href="file:///etc/hostname" width="64" height="64"/><rect width="64" height="64" fill="#00ff00"/></svg>`;
    const { blobs } = await read('picture', 'a.svg', new TextEncoder().encode(svg));
    const { data } = await decodePixels(blobs[0]);
    expect([...data.slice(0, 4)]).toEqual([0, 255, 0, 255]);
  });
  test('a PSD that says it is a planet is refused before anything is made for it', async () => {
    const head = new Uint8Array(40);
    head.set(new TextEncoder().encode('8BPS'));
    const v = new DataView(head.buffer);
    v.setUint16(4, 1);
    v.setUint16(12, 3);
    v.setUint32(14, 30_000);
    v.setUint32(18, 30_000);
    v.setUint16(22, 8);
    v.setUint16(24, 3);
    expect(await refused('a.psd', head)).toBe('picture/too-large');
  });
});

describe('sequences', () => {
  const job = async (name: string, bytes: Uint8Array, out = '') => {
    const path = join(dir, name);
    writeFileSync(path, bytes);
    return (await runIntake({ files: [{ name, path }], ...(out ? { outDir: join(dir, out) } : {}) })).items;
  };
  test('a zip of frames is one sequence; its sheet gives every frame back bit by bit', async () => {
    const [item, ...more] = await job('flame.zip', await flameZip(12, 40), 'flame');
    expect(more).toEqual([]);
    if (item.facts.kind !== 'sequence') throw new Error('no sequence');
    expect(item.facts).toMatchObject({ frames: 12, fps: 24, loop: true, gaps: [], format: 'frames', alpha: 'soft' });
    const sheet = await decodePixels(made(join('flame', item.facts.sheet.sha)));
    for (let i = 0; i < 12; i++) expect(Buffer.compare(takeFrame(sheet, item.facts.sheet, i).data, flameFrame(i / 12, 40))).toBe(0);
    expect((await validateBytes(made(join('flame', item.model as string)))).issues.numErrors).toBe(0);
  });
  test('a gap is told; other files in the zip come in for themselves', async () => {
    const [item] = await job('gap.zip', await flameZip(8, 16, [5]));
    expect(codes(item.facts)).toEqual(['sequence/gap']);
    expect(item.facts.findings[0].message).toContain('number 5');
  });
  test('sheet, rate and way of playing are chosen by steps', async () => {
    const files = new Map(Array.from({ length: 6 }, (_, i): [string, Uint8Array] => [`f${i}.png`, new Uint8Array()]));
    for (const [i, name] of [...files.keys()].entries())
      files.set(
        name,
        new Uint8Array(
          await sharp(flameFrame(i / 6, 100), { raw: { width: 100, height: 100, channels: 4 } })
            .png()
            .toBuffer(),
        ),
      );
    const { facts } = await prepareMedia(
      {
        kind: 'sequence',
        name: 'f',
        bytes: new Uint8Array(9),
        frames: { group: { stem: 'f', frames: [...files.keys()], gaps: [] }, files },
      },
      [
        { step: 'play', settings: { fps: 12, loop: false } },
        { step: 'sheet', settings: { maxEdge: 128 } },
      ],
    );
    expect(facts).toMatchObject({ fps: 12, loop: false, seconds: 0.5 });
    if (facts.kind !== 'sequence') throw new Error('no sequence');
    expect(Math.max(facts.sheet.width, facts.sheet.height)).toBeLessThanOrEqual(128);
    expect(codes(facts)).toEqual(['sequence/smaller']);
  });
  test('GIF, WebP and PNG animations give the frames another decoder gives, bit by bit', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'testsrc=size=48x32:rate=10:duration=0.8', '-pix_fmt', 'rgb24', '-plays', '0', 'a.apng');
    ffmpeg('-i', 'a.apng', '-filter_complex', 'split[a][b];[a]palettegen[p];[b][p]paletteuse', 'a.gif');
    ffmpeg('-i', 'a.apng', '-c:v', 'libwebp', '-lossless', '1', '-loop', '0', 'a.webp');
    for (const [file, name] of [
      ['a.apng', 'a.png'],
      ['a.gif', 'a.gif'],
      ['a.webp', 'a.webp'],
    ]) {
      const { facts, blobs } = await read('sequence', name, made(file));
      expect(facts).toMatchObject({ frames: 8, width: 48, height: 32, loop: true });
      expect(facts.fps).toBeCloseTo(10, 1);
      const sheet = await decodePixels(blobs[0]);
      // this ffmpeg decodes no animated WebP: its frames are those it was made from, without loss
      const from = file === 'a.webp' ? 'a.apng' : file;
      mkdirSync(join(dir, `${file}-frames`), { recursive: true });
      ffmpeg('-i', from, '-vsync', '0', '-pix_fmt', 'rgba', `${file}-frames/%d.png`);
      for (let i = 0; i < 8; i++) {
        const theirs = await decodePixels(made(`${file}-frames/${i + 1}.png`));
        expect(Buffer.compare(takeFrame(sheet, facts.sheet, i).data, theirs.data)).toBe(0);
      }
    }
  });
  test('a GIF of 100 000 frames is refused by counting, in under two seconds', async () => {
    const head = [...new TextEncoder().encode('GIF89a'), 1, 0, 1, 0, 0x80, 0, 0, 0, 0, 0, 255, 255, 255];
    const frame = [0x2c, 0, 0, 0, 0, 1, 0, 1, 0, 0, 2, 2, 0x44, 1, 0];
    const bytes = new Uint8Array(head.length + frame.length * 100_000 + 1);
    bytes.set(head);
    for (let i = 0; i < 100_000; i++) bytes.set(frame, head.length + i * frame.length);
    bytes[bytes.length - 1] = 0x3b;
    const started = performance.now();
    expect(await refused('a.gif', bytes)).toBe('sequence/too-many');
    expect(performance.now() - started).toBeLessThan(2000);
  });
});

describe('sounds and films', () => {
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'sine=frequency=997:duration=3:sample_rate=44100',
    '-filter_complex',
    '[0]volume=0.5,adelay=700|700,apad=pad_dur=0.8[a]',
    '-map',
    '[a]',
    '-ac',
    '2',
    's.wav',
  );
  for (const to of ['mp3', 'ogg', 'm4a', 'flac']) ffmpeg('-i', 's.wav', `s.${to}`);
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'testsrc=size=640x480:rate=25:duration=2',
    '-f',
    'lavfi',
    '-i',
    'sine=duration=2',
    '-c:v',
    'libx264',
    '-pix_fmt',
    'yuv420p',
    'v.mp4',
  );
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=size=640x480:rate=30:duration=2', '-c:v', 'libvpx', 'v.webm');
  /** What ffmpeg's own meter says (EBU R 128). */
  const theirLoudness = (file: string) => {
    const said = execFileSync('sh', ['-c', `ffmpeg -nostats -i ${file} -af ebur128 -f null - 2>&1`], { cwd: dir, encoding: 'utf8' });
    return Number([...said.matchAll(/I:\s+(-?[\d.]+) LUFS/g)].at(-1)?.[1]);
  };
  test.each(['wav', 'mp3', 'ogg', 'm4a', 'flac'])(
    's.%s: length, channels, rate and loudness are those of ffprobe and its meter',
    async (ending) => {
      const { facts } = await read('sound', `s.${ending}`, made(`s.${ending}`));
      const theirs = JSON.parse(probe(`s.${ending}`, 'format=duration', 'stream=channels,sample_rate'));
      // coders pad to whole frames: up to two of 1152 samples
      expect(Math.abs(facts.seconds - Number(theirs.format.duration))).toBeLessThan(0.06);
      expect([facts.channels, facts.sampleRate]).toEqual([theirs.streams[0].channels, Number(theirs.streams[0].sample_rate)]);
      expect(Math.abs((facts.loudnessLufs as number) - theirLoudness(`s.${ending}`))).toBeLessThan(0.3);
      expect(codes(facts)).toEqual(['sound/silence']);
    },
  );
  test.each(['wav', 'mp3', 'ogg', 'm4a', 'flac'])(
    's.%s: trimmed by its fix it is shorter, still that format, and as loud',
    async (ending) => {
      const bytes = made(`s.${ending}`);
      const { facts } = await read('sound', `s.${ending}`, bytes);
      const fix = facts.findings[0].fix as StepDraft;
      const { facts: after, blobs } = await prepareMedia(source('sound', `s.${ending}`, bytes), [fix]);
      if (after.kind !== 'sound') throw new Error('no sound');
      expect(after.format).toBe(facts.format);
      expect(after.seconds).toBeLessThan(facts.seconds - 1);
      expect(after.seconds).toBeGreaterThan(2.9);
      // blocks that were half silent are gone from the mean
      expect(Math.abs((after.loudnessLufs as number) - (facts.loudnessLufs as number))).toBeLessThan(0.5);
      writeFileSync(join(dir, `cut.${ending}`), blobs[0]);
      expect(Math.abs(Number(JSON.parse(probe(`cut.${ending}`, 'format=duration')).format.duration) - after.seconds)).toBeLessThan(0.06);
    },
  );
  test.each(['mp4', 'webm'])('v.%s: size, length and rate are those of ffprobe', async (ending) => {
    const { facts } = await read('footage', `v.${ending}`, made(`v.${ending}`));
    const theirs = JSON.parse(probe(`v.${ending}`, 'format=duration', 'stream=width,height,r_frame_rate')).streams[0];
    const [a, b] = theirs.r_frame_rate.split('/').map(Number);
    expect([facts.width, facts.height, facts.fps]).toEqual([theirs.width, theirs.height, a / b]);
    expect(facts.seconds).toBeCloseTo(2, 1);
    expect(facts.sound).toBe(ending === 'mp4');
  });
  test('a WAV that lies about its length is read for what is there; noise with a sound’s name is refused', async () => {
    const lie = wav([Float32Array.from({ length: 8000 }, (_, i) => 0.5 * Math.sin(i / 5))], 8000, 0x7ffffff0);
    const { facts } = await read('sound', 'lie.wav', lie);
    expect(facts.seconds).toBe(1);
    expect(codes(facts)).toContain('sound/length');
    for (const ending of ['mp3', 'ogg', 'm4a', 'flac'])
      expect(await refused(`s.${ending}`, made(`s.${ending}`).slice(0, 200).fill(0x55, 60))).toMatch(/^sound\//);
    expect(await refused('v.mp4', made('v.mp4').slice(0, 400))).toMatch(/^sound\/unreadable$/);
  });
  test('the demo’s bell rings', async () =>
    expect((await read('sound', 'bell.wav', bellWav())).facts).toMatchObject({ channels: 2, seconds: 4.2 }));
});

describe('environments and motion', () => {
  test('an EXR is read as what it holds; NaN and infinities are counted and gone from what is used', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'color=c=0x808080:size=64x32:duration=0.1', '-frames:v', '1', '-pix_fmt', 'gbrpf32le', 'e.exr');
    const { facts } = await read('environment', 'e.exr', made('e.exr'));
    expect(facts).toMatchObject({ width: 64, height: 32, notFinite: 0, format: 'exr' });
    // the same picture by ffmpeg's own decoder, as floats
    ffmpeg('-i', 'e.exr', '-f', 'rawvideo', '-pix_fmt', 'gbrpf32le', 'e.raw');
    const raw = made('e.raw');
    expect(facts.exposureEv).toBeCloseTo(Math.log2(new DataView(raw.buffer, raw.byteOffset).getFloat32(0, true)), 1);
    // one pixel in three is no number
    const bad = made('e.exr');
    const view = new DataView(bad.buffer);
    let spoilt = 0;
    for (let at = 600; at + 4 < bad.length && spoilt < 50; at++)
      if (Math.abs(view.getFloat32(at, true) - new DataView(raw.buffer, raw.byteOffset).getFloat32(0, true)) < 1e-7) {
        view.setFloat32(at, spoilt % 2 ? Number.NaN : Number.POSITIVE_INFINITY, true);
        spoilt++;
        at += 3;
      }
    expect(spoilt).toBe(50);
    const { facts: worse, blobs } = await read('environment', 'bad.exr', bad);
    expect(worse.notFinite).toBeGreaterThan(40);
    expect(codes(worse)).toContain('environment/not-finite');
    expect(readRgbe(blobs[0]).data.every(Number.isFinite)).toBe(true);
  });
  test('an EXR and an HDR that lie about their size are refused', async () => {
    const lie = made('e.exr');
    const at = Buffer.from(lie).indexOf('dataWindow') + 'dataWindow'.length + 1 + 'box2i'.length + 1 + 4;
    new DataView(lie.buffer).setInt32(at + 8, 2_000_000, true);
    new DataView(lie.buffer).setInt32(at + 12, 2_000_000, true);
    expect(await refused('lie.exr', lie)).toBe('environment/too-large');
    expect(await refused('cut.exr', made('e.exr').slice(0, 400))).toBe('environment/unreadable');
    expect(await refused('x.hdr', new TextEncoder().encode('#?RADIANCE\n\n-Y 9 +X 99999999\n'))).toBe('environment/too-large');
  });
  test('a BVH becomes bones and a clip the validator takes', async () => {
    const { facts, blobs } = await read('motion', 'walk.bvh', new TextEncoder().encode(walkBvh()));
    expect(facts).toMatchObject({ format: 'bvh', factor: 0.01 });
    expect((await validateBytes(blobs[0])).issues.numErrors).toBe(0);
  });
  test('so is an FBX, by way of the converter', async () => {
    const path = join(dir, 'clip.fbx');
    writeFileSync(path, CLIP_FBX);
    const [item] = (await runIntake({ files: [{ name: 'clip.fbx', path }] })).items;
    expect(item.facts).toMatchObject({
      kind: 'motion',
      format: 'fbx',
      heightMm: 500,
      clips: [{ name: 'Wave', seconds: 1, loopDeg: 90, loopJoint: 'Arm' }],
    });
    if (item.facts.kind === 'motion') expect(item.facts.joints.map((j) => j.name)).toEqual(['Hips', 'Arm']);
  });
  test('a GLB of bones and clips without a shape is a motion clip', async () => {
    const { blobs } = await read('motion', 'walk.bvh', new TextEncoder().encode(walkBvh()));
    const path = join(dir, 'walk.glb');
    writeFileSync(path, blobs[0]);
    const [item] = (await runIntake({ files: [{ name: 'walk.glb', path }] })).items;
    expect(item.facts).toMatchObject({ kind: 'motion', format: 'glb', clips: [{ frames: 60, fps: 30 }] });
  });
});
