/** The pictures step. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { expect, describe as group, it } from 'vitest';
import { asRecipe, painted, photo, run, tools } from '../../../e2e/support/preparing';
import { sha256Hex } from '../../worker/node/codecs';
import { nodePictures } from '../../worker/node/pictures';
import type { StepDraft } from '../piece/recipe';
import { runMeasured } from './run';

group('pictures', () => {
  it('as they are encoded, another decoder reads them the same (ffmpeg)', async () => {
    const source = await photo(128);
    const dir = mkdtempSync(join(tmpdir(), 'pictures-'));
    try {
      for (const [format, quality, most] of [
        ['webp', 80, 1.5],
        ['jpeg', 80, 1.5],
        ['png', 100, 0],
      ] as const) {
        const made = await nodePictures.encode(source, { maxEdge: 64, format, quality, numbers: false, directions: false, alpha: false });
        const file = join(dir, `a.${format}`);
        writeFileSync(file, made.bytes);
        const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'rawvideo', '-pix_fmt', 'rgba', '-']);
        const own = await nodePictures.decode(made.bytes);
        expect([own.width, own.height]).toEqual([64, 64]);
        expect(raw.length).toBe(own.data.length);
        // chroma is spread over its pixels by other filters: the grey must agree
        const grey = (d: Uint8Array, i: number) => 0.299 * d[i] + 0.587 * d[i + 1] + 0.114 * d[i + 2];
        let sum = 0;
        for (let i = 0; i < raw.length; i += 4) sum += Math.abs(grey(own.data, i) - grey(raw, i));
        expect(sum / (raw.length / 4)).toBeLessThanOrEqual(most);
      }
    } finally {
      rmSync(dir, { recursive: true });
    }
  });
  it('a picture that would grow stays as it is', async () => {
    const document = await painted();
    const flat = await sharp({ create: { width: 32, height: 32, channels: 3, background: '#a33' } })
      .png()
      .toBuffer();
    document.getRoot().listTextures()[0].setImage(new Uint8Array(flat)).setMimeType('image/png');
    const made = await run(document, [
      { step: 'pictures', settings: { roles: [{ role: 'color', maxEdge: 32, format: 'jpeg', quality: 100 }], textures: [] } },
    ]);
    expect(made.document.getRoot().listTextures()[0].getMimeType()).toBe('image/png');
  });
  it('alpha that a material reads is kept, and what has no alpha cannot hold it', async () => {
    const half = await sharp({ create: { width: 64, height: 64, channels: 4, background: { r: 200, g: 90, b: 40, alpha: 0.5 } } })
      .png()
      .toBuffer();
    for (const [format, alpha, mime] of [
      ['jpeg', true, 'image/png'],
      ['jpeg', false, 'image/jpeg'],
      ['webp', true, 'image/webp'],
    ] as const) {
      const made = await nodePictures.encode(new Uint8Array(half), {
        maxEdge: 64,
        format,
        quality: 90,
        numbers: false,
        directions: false,
        alpha,
      });
      expect(made.mime).toBe(mime);
      expect((await nodePictures.decode(made.bytes)).data[3]).toBe(alpha ? 128 : 255);
    }
  });
  it('two pictures of one name each get what was chosen for them', async () => {
    const d = await painted();
    const other = new Uint8Array(
      await sharp({ create: { width: 128, height: 128, channels: 3, background: '#a33' } })
        .png()
        .toBuffer(),
    );
    d.getRoot()
      .listMaterials()[0]
      .setEmissiveFactor([1, 1, 1])
      .setEmissiveTexture(d.createTexture('skin').setImage(other).setMimeType('image/png'));
    const [a, b] = d.getRoot().listTextures();
    const made = await run(d, [
      {
        step: 'pictures',
        settings: {
          roles: [],
          textures: [
            { texture: 'skin', was: sha256Hex(a.getImage() as Uint8Array), maxEdge: 64, format: 'webp', quality: 80 },
            { texture: 'skin', was: sha256Hex(b.getImage() as Uint8Array), maxEdge: 32, format: 'png', quality: 100 },
          ],
        },
      },
    ]);
    expect(
      made.document
        .getRoot()
        .listTextures()
        .map((t) => [t.getSize()?.[0], t.getMimeType()]),
    ).toEqual([
      [64, 'image/webp'],
      [32, 'image/png'],
    ]);
  });
  it('a picture over its limit is made smaller even where it grows', async () => {
    const d = await painted();
    const flat = await sharp({ create: { width: 512, height: 512, channels: 3, background: '#a33' } })
      .webp({ quality: 1 })
      .toBuffer();
    d.getRoot().listTextures()[0].setImage(new Uint8Array(flat)).setMimeType('image/webp');
    const made = await run(d, [
      { step: 'pictures', settings: { roles: [{ role: 'color', maxEdge: 256, format: 'png', quality: 100 }], textures: [] } },
    ]);
    expect(made.after.textureEdge).toBe(256);
  });
  it('are begun while shapes are worked on, each once, and come out as if one had waited', async () => {
    const steps: StepDraft[] = [
      { step: 'prune', settings: {} },
      { step: 'pictures', settings: { roles: [{ role: 'color', maxEdge: 64, format: 'webp', quality: 80 }], textures: [] } },
    ];
    const count = async (list: StepDraft[]) => {
      const asked: number[] = [];
      let pruned = false;
      const t = tools();
      const made = await runMeasured(await painted(), 1e6, asRecipe(list), 0.5, 'none', {
        ...t,
        progress: (_, what) => {
          pruned ||= what === 'pictures';
        },
        encode: (bytes, ask) => {
          asked.push(pruned ? 1 : 0);
          return t.encode(bytes, ask);
        },
      });
      return { asked, sha: sha256Hex(made.document.getRoot().listTextures()[0].getImage() as Uint8Array) };
    };
    const ahead = await count(steps);
    expect(ahead.asked).toEqual([0]);
    // first of all nothing can be begun before it
    const alone = await count(steps.slice(1));
    expect(alone.asked).toEqual([1]);
    expect(ahead.sha).toBe(alone.sha);
    // what makes pictures smaller before must be waited for
    const after = await count([{ step: 'texture', settings: { ops: ['resize'], maxEdge: 128 } }, ...steps]);
    expect(after.asked).toEqual([1]);
  });
  it('that cannot be read stay as they are, begun before or not', async () => {
    const document = await painted();
    const broken = new Uint8Array([137, 80, 78, 71, 13, 10, 26, 10, 0, 0, 0, 13, 73, 72, 68, 82, 0, 0, 0, 1, 0, 0, 0, 1, 8, 6, 0, 0]);
    document.getRoot().listTextures()[0].setImage(broken);
    const picture: StepDraft = {
      step: 'pictures',
      settings: { roles: [{ role: 'color', maxEdge: 64, format: 'webp', quality: 80 }], textures: [] },
    };
    for (const steps of [[picture], [{ step: 'prune', settings: {} } as StepDraft, picture]]) {
      const made = await runMeasured(document, 1e6, asRecipe(steps), 0.5, 'none', tools());
      expect(made.document.getRoot().listTextures()[0].getImage()).toEqual(broken);
    }
  });
});
