import { validateBytes } from 'gltf-validator';
import { describe, expect, test } from 'vitest';
import { inspectModel, readGltf } from '@/core/intake';
import { helmetGlb } from './helmet';
import { spectaclesGlb } from './spectacles';

const facts = async (glb: Uint8Array) =>
  inspectModel(await readGltf(glb, {}), glb.length, { issues: (await validateBytes(glb, { maxIssues: 0 })).issues.messages });

describe('the demo models', () => {
  test('the helmet: 5 000 to 15 000 triangles, textured, in metres, nothing wrong by the Khronos validator', async () => {
    const f = await facts(await helmetGlb());
    expect(f.triangles).toBeGreaterThan(5_000);
    expect(f.triangles).toBeLessThan(15_000);
    expect(f.textures.length).toBeGreaterThan(2);
    expect(f.findings.filter((x) => x.code.startsWith('gltf/'))).toEqual([]);
    expect(f.sizeMm[1]).toBeGreaterThan(300);
    expect(f.sizeMm[1]).toBeLessThan(500);
  });
  test('the spectacles are delivered in centimetres: a hundred times too large, 135 to 150 mm once read so', async () => {
    const f = await facts(await spectaclesGlb());
    expect(f.findings.filter((x) => x.code.startsWith('gltf/'))).toEqual([]);
    expect(f.sizeMm[0] / 100).toBeGreaterThan(135);
    expect(f.sizeMm[0] / 100).toBeLessThan(150);
  });
  test('the same numbers make the same bytes', async () => {
    expect(await spectaclesGlb()).toEqual(await spectaclesGlb());
  });
});
