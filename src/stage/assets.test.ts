import { BufferGeometry, Group, Mesh, MeshBasicMaterial, Texture } from 'three';
import { describe, expect, test, vi } from 'vitest';
import { disposeModel, SceneAssets } from './assets';
import type { DrawnModel } from './models';

function model(): DrawnModel & { gone: string[] } {
  const gone: string[] = [];
  const map = new Texture();
  const material = new MeshBasicMaterial({ map });
  const geometry = new BufferGeometry();
  for (const [name, thing] of Object.entries({ map, material, geometry })) thing.addEventListener('dispose', () => gone.push(name));
  const scene = new Group();
  scene.add(new Mesh(geometry, material), new Mesh(geometry, material));
  return { scene, clips: [], variants: [], gone };
}

describe('SceneAssets', () => {
  test('what nobody pins is let go, the longest unused first, once it weighs more than the budget; it is told', async () => {
    const made = new Map<number, ReturnType<typeof model>>();
    let n = 0;
    const assets = new SceneAssets(250, async () => {
      const m = model();
      made.set(n++, m);
      return m;
    });
    const told: string[] = [];
    assets.onGone = (sha) => told.push(sha);
    for (const sha of ['a', 'b', 'c']) await assets.add(sha, new ArrayBuffer(100));
    // 300 bytes idle: a goes
    expect(told).toEqual(['a']);
    expect(made.get(0)?.gone.sort()).toEqual(['geometry', 'map', 'material']);
    expect(assets.get('a')).toBeUndefined();
    assets.pin('piece', ['b']);
    await assets.add('d', new ArrayBuffer(100));
    await assets.add('e', new ArrayBuffer(100));
    // b is pinned and weighs nothing here; c is the longest unused of c, d, e
    expect(told).toEqual(['a', 'c']);
    assets.pin('piece', []);
    expect(told).toEqual(['a', 'c', 'b']);
    expect(assets.size).toBe(2);
  });

  test('who leaves lets go of all that nobody else holds, and it is told', async () => {
    const assets = new SceneAssets(1e6, async () => model());
    const told: string[] = [];
    assets.onGone = (sha) => told.push(sha);
    for (const sha of ['a', 'b', 'c']) await assets.add(sha, new ArrayBuffer(100));
    assets.pin('piece', ['a', 'b']);
    assets.pin('portrait', ['b']);
    assets.leave('piece');
    expect(told.sort()).toEqual(['a', 'c']);
    expect(assets.get('b')).toBeDefined();
  });

  test('one file is parsed once, one that cannot be parsed is asked for again, the newest stays whatever it weighs', async () => {
    const parse = vi.fn(async () => model() as DrawnModel);
    const assets = new SceneAssets(10, parse);
    await Promise.all([assets.add('a', new ArrayBuffer(100)), assets.add('a', new ArrayBuffer(100))]);
    expect(parse).toHaveBeenCalledTimes(1);
    expect(assets.get('a')).toBeDefined();
    parse.mockRejectedValueOnce(new Error('broken'));
    await expect(assets.add('b', new ArrayBuffer(1))).rejects.toThrow('broken');
    await assets.add('b', new ArrayBuffer(1));
    expect(assets.get('b')).toBeDefined();
  });

  test('disposing frees what meshes share once', () => {
    const m = model();
    disposeModel(m);
    expect(m.gone.filter((x) => x === 'map')).toHaveLength(1);
  });
});
