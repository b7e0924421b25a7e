/** STL, beside another reader. */
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { openGltf } from '@/core/intake';
import { convertStl } from './stl';

const MODELS = '/usr/share/assimp/models/STL';
const text = (s: string) => new TextEncoder().encode(s);
const read = async (name: string, bytes: Uint8Array) => openGltf(await convertStl({ name, bytes }, new Map())).json;
const facet = (z: number, normal = '0 0 1') =>
  `facet normal ${normal}\nouter loop\nvertex 0 0 ${z}\nvertex 1 0 ${z}\nvertex 0 1 ${z}\nendloop\nendfacet\n`;

test.runIf(existsSync(MODELS)).each(['Wuson.stl', 'Spider_binary.stl', 'Spider_ascii.stl', 'sphereWithHole.stl', '3DSMaxExport.STL'])(
  '%s: as many triangles as assimp tells',
  async (name) => {
    const json = await read(name, new Uint8Array(readFileSync(`${MODELS}/${name}`)));
    const ours = (json.accessors ?? []).filter((a) => a.type === 'VEC3' && 'min' in a).reduce((n, a) => n + a.count / 3, 0);
    const told = execFileSync('assimp', ['info', `${MODELS}/${name}`], { encoding: 'utf8' });
    expect(ours).toBe(Number(told.match(/Faces:\s+(\d+)/)?.[1]));
  },
);
test('every solid is a shape by its name', async () => {
  const json = await read('a.stl', text(`solid keel\n${facet(0)}endsolid keel\nsolid mast\n${facet(1)}${facet(2)}endsolid mast\n`));
  expect(json.nodes?.map((n) => n.name)).toEqual(['keel', 'mast']);
  expect(json.accessors?.filter((a) => 'min' in a).map((a) => a.count)).toEqual([3, 6]);
});
test('normals that were left at nought are no normals', async () => {
  const attributes = ({ meshes = [] }: Awaited<ReturnType<typeof read>>) =>
    Object.keys((meshes[0].primitives as { attributes: object }[])[0].attributes);
  expect(attributes(await read('a.stl', text(`solid\n${facet(0)}endsolid\n`)))).toEqual(['POSITION', 'NORMAL']);
  expect(attributes(await read('a.stl', text(`solid\n${facet(0)}${facet(1, '0 0 0')}endsolid\n`)))).toEqual(['POSITION']);
});
test('a facet that lacks a corner is told, not guessed', async () => {
  await expect(read('a.stl', text(`solid\n${facet(0).replace('vertex 1 0 0\n', '')}endsolid\n`))).rejects.toThrow('three corners');
});
