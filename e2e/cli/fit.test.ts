/** `./scaphos fit`: what programs outside rely on. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument } from 'pdf-lib';
import { Euler, Quaternion, Vector3 } from 'three';
import { afterAll, describe, expect, test } from 'vitest';
import { crownGlb } from '../../demo/models/crown';
import { SPECTACLES_SEAT_M, spectaclesGlb } from '../../demo/models/spectacles';
import { scaphos } from '../support/cli';
import { inTurn } from '../support/sweep';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-fit-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const file = async (name: string, bytes: Uint8Array | Promise<Uint8Array> | string) => {
  writeFileSync(join(dir, name), typeof bytes === 'string' ? bytes : await bytes);
  return join(dir, name);
};

interface Fit {
  kind: string;
  scale: number;
  rotationDeg: { yaw: number; pitch: number; roll: number };
  translationMm: [number, number, number];
  pairs: { name: string; modelMm: number[]; formMm: number[]; residualMm: number }[];
  clearance: { deepestMm: number };
  leaks: { form: string; pose: string }[];
  confidence: number;
  reason: string;
}

describe('./scaphos fit', () => {
  test('spectacles in inches, on their face and turned round: where they were made for; the pairs are where the transform brings them', async () => {
    const turned = await file('s.glb', spectaclesGlb({ unitPerMm: 1 / 25.4, quarterPitch: 1, quarterYaw: 2, shiftMm: [40, -9, 12] }));
    const [out, sheet] = [join(dir, 'p.zip'), join(dir, 's.csv')];
    const { code, rows } = await scaphos(['fit', turned, '--as', 'eyewear', '--cast', 'S,M,L', '--sheet', sheet, '--out', out, '--json']);
    expect(code).toBe(0);
    const fit = rows[0] as unknown as Fit;
    expect(fit).toMatchObject({ file: turned, kind: 'eyewear', confidence: expect.any(Number) });
    expect(fit.confidence).toBeGreaterThan(0.8);
    // the file's own metres: an inch was taken for one
    expect(fit.scale / 0.0254).toBeCloseTo(1, 1);
    const { yaw, pitch, roll } = fit.rotationDeg;
    const D = Math.PI / 180;
    const turn = new Quaternion().setFromEuler(new Euler(pitch * D, yaw * D, roll * D, 'YXZ'));
    const apply = (mm: number[]) =>
      new Vector3(...mm)
        .multiplyScalar(fit.scale)
        .applyQuaternion(turn)
        .add(new Vector3(...fit.translationMm));
    for (const p of fit.pairs) expect(apply(p.modelMm).distanceTo(new Vector3(...p.formMm))).toBeCloseTo(p.residualMm, 1);
    // the bridge's middle was the file's origin, before it was moved and turned
    const origin = new Vector3(40, -9, 12).divideScalar(25.4).multiplyScalar(1000);
    expect(apply(origin.toArray()).distanceTo(new Vector3(...SPECTACLES_SEAT_M).multiplyScalar(1000))).toBeLessThan(6);
    expect(fit.leaks).toHaveLength(21);
    const lines = readFileSync(sheet, 'utf8').trim().split('\r\n');
    expect(lines).toHaveLength(22);
    expect(lines[1]).toMatch(/^S,yaw-60,/);
    // the piece holds it hung as it was fitted
    const shown = await scaphos(['piece', 'show', out, '--json']);
    const [part] = Object.values((shown.rows[0] as { parts: Record<string, { kind: string; offset: { size: number[] } }> }).parts).filter(
      (p) => p.kind === 'model',
    );
    expect(part.offset.size[0]).toBeCloseTo(fit.scale, 6);
  });

  test.runIf(inTurn('a form of measures; a gap'))(
    'a form of measures; a gap; what is not what is said: exit 1, and nothing is written',
    async () => {
      const measures = await file('wide.json', JSON.stringify({ headBreadth: 165, bizygomaticBreadth: 148, bitragionBreadth: 152 }));
      const crown = await file('c.glb', crownGlb());
      const wide = await scaphos([
        'fit',
        crown,
        '--as',
        'headwear',
        '--form',
        measures,
        '--gap',
        '2mm',
        '--sheet',
        join(dir, 'wide.pdf'),
        '--json',
      ]);
      expect(wide.code).toBe(0);
      const [page] = (await PDFDocument.load(readFileSync(join(dir, 'wide.pdf')))).getPages();
      expect([page.getWidth(), page.getHeight()].map((pt) => Math.round((pt * 25.4) / 72))).toEqual([210, 297]);
      expect((wide.rows[0] as unknown as Fit).leaks[0]).toEqual({
        form: 'wide',
        pose: 'yaw-60',
        share: expect.any(Number),
        swallowed: expect.any(Number),
      });
      expect((wide.rows[0] as unknown as Fit).clearance.deepestMm).toBeLessThan(-1);
      const out = join(dir, 'none.zip');
      const wrong = await scaphos(['fit', crown, '--as', 'eyewear', '--out', out, '--json']);
      expect(wrong.code).toBe(1);
      expect(wrong.rows[0]).toMatchObject({ scale: null, translationMm: null, clearance: null, leaks: [] });
      expect((wrong.rows[0] as unknown as Fit).confidence).toBeLessThan(0.5);
      expect(() => readFileSync(out)).toThrow();
    },
  );

  test('what cannot be read, measures that contradict, and words it does not know: each is told', async () => {
    const broken = await scaphos(['fit', await file('b.glb', 'no model'), '--as', 'mask', '--json']);
    expect(broken.code).toBe(2);
    expect(broken.rows[0]).toMatchObject({ error: { message: expect.any(String) } });
    const flat = await file('flat.json', JSON.stringify({ headBreadth: 2 }));
    const none = await scaphos(['fit', await file('d.glb', crownGlb()), '--as', 'headwear', '--form', flat, '--json']);
    expect(none.code).toBe(2);
    expect(none.rows[0]).toMatchObject({ error: { code: 'form/measure', message: expect.stringContaining('headBreadth') } });
    const apart = await file('apart.json', JSON.stringify({ interpupillaryDistance: 84, bizygomaticBreadth: 104 }));
    const both = await scaphos(['fit', await file('d.glb', crownGlb()), '--as', 'headwear', '--form', apart, '--json']);
    expect([both.code, both.rows[0]]).toMatchObject([
      2,
      { error: { code: 'form/measure', message: expect.stringMatching(/Pupils apart 84 mm and cheekbones 104/) } },
    ]);
    for (const [args, said] of [
      [['d.glb'], '--as KIND'],
      [['d.glb', '--as', 'mask', '--gap', 'wide'], '--gap'],
      [['d.glb', '--as', 'mask', '--form', 'XL'], 'S, M, L'],
      [['d.glb', '--as', 'mask', '--sheet', 'x.doc'], '.pdf'],
    ] as const) {
      const { code, stderr } = await scaphos(['fit', ...args]);
      expect(code).toBe(64);
      expect(stderr).toContain(said);
    }
  });
});
