/** Scores of pictures: views held out from the solver, drawn by Chromium, compared by another library's SSIM. */
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { build } from 'esbuild';
import sharp from 'sharp';
import { CHROMIUM } from '../../e2e/support/chromium';
import { rivalPath } from './rivals';
import { io } from './triangles';

/** Bearing and height, degrees: between the solver's own, which stand at multiples of 45. */
const HELD_OUT = [
  [22, 5],
  [67, -25],
  [112, 35],
  [158, 0],
  [203, 25],
  [248, -10],
  [293, 15],
  [338, -35],
  [100, 60],
  [280, -55],
] as const;

interface Grey {
  width: number;
  height: number;
  data: Uint8ClampedArray;
}
type Ssim = (a: Grey, b: Grey, options: { ssim: string; downsample: boolean }) => { mssim: number };

export interface PictureScorer {
  /** A view of the original shows nothing (its materials are clear as air): pictures say nothing about it. */
  blank: boolean;
  /** Similarity of the worst held-out view to the original's. */
  worst: (glb: Uint8Array) => Promise<number>;
}

/** Without packing: the page needs no decoders of its own. */
async function plain(glb: Uint8Array): Promise<Uint8Array> {
  const document = await io.readBinary(glb as Uint8Array<ArrayBuffer>);
  for (const e of document.getRoot().listExtensionsUsed()) if (/draco|meshopt/.test(e.extensionName)) e.dispose();
  return io.writeBinary(document);
}

export async function openPictures(): Promise<{ of: (original: Uint8Array) => Promise<PictureScorer>; close: () => Promise<void> }> {
  const { ssim } = createRequire(join(rivalPath('ssim.js'), 'x.js'))('ssim.js') as { ssim: Ssim };
  const { outputFiles } = await build({
    entryPoints: ['bench/prepare/page.ts'],
    bundle: true,
    write: false,
    format: 'iife',
    platform: 'browser',
    logLevel: 'warning',
  });
  const browser = await chromium.launch({
    executablePath: CHROMIUM,
    args: [
      '--no-sandbox',
      '--no-first-run',
      '--disable-quic',
      '--use-angle=swiftshader',
      '--enable-unsafe-swiftshader',
      '--ignore-gpu-blocklist',
    ],
  });
  const page = await browser.newPage();
  await page.setContent('<!doctype html><title>held out</title>');
  await page.addScriptTag({ content: outputFiles[0].text });
  const draw = async (glb: Uint8Array, reset: boolean): Promise<Grey[]> => {
    const pngs = await page.evaluate(
      ([text, views, first]) => (window as never as { draw: (...a: unknown[]) => Promise<string[]> }).draw(text, views, first),
      [Buffer.from(await plain(glb)).toString('base64'), HELD_OUT, reset] as const,
    );
    return Promise.all(
      pngs.map(async (p) => {
        const { data, info } = await sharp(Buffer.from(p.slice(p.indexOf(',') + 1), 'base64'))
          .ensureAlpha()
          .raw()
          .toBuffer({ resolveWithObject: true });
        return { width: info.width, height: info.height, data: new Uint8ClampedArray(data) };
      }),
    );
  };
  return {
    of: async (original) => {
      const before = await draw(original, true);
      const shows = ({ data }: Grey) => data.some((x, i) => x !== data[i % 4]);
      return {
        blank: !before.every(shows),
        worst: async (glb) => {
          const after = await draw(glb, false);
          return Math.min(...after.map((a, i) => ssim(before[i], a, { ssim: 'original', downsample: false }).mssim));
        },
      };
    },
    close: () => browser.close(),
  };
}
