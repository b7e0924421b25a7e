/** Files beside a model, whatever they are called. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { companionsBeside } from './beside';

const dir = mkdtempSync(join(tmpdir(), 'scaphos-beside-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const put = (name: string, content: string | Uint8Array) => {
  mkdirSync(dirname(join(dir, name)), { recursive: true });
  writeFileSync(join(dir, name), content);
};
const beside = async (content: string | Uint8Array) => {
  put('model.obj', content);
  const bytes = typeof content === 'string' ? new TextEncoder().encode(content) : content;
  return [...(await companionsBeside(join(dir, 'model.obj'), bytes)).keys()].sort();
};

for (const name of ['brass map.png', 'a+b.png', 'tide & glass.png', 'écume.png', 'maps/deep.jpg', 'other.png']) put(name, 'x');
put('the boat.mtl', 'newmtl a\nmap_Kd brass map.png\nmap_Bump -bm 0.4 maps\\deep.jpg\n');

test.each([
  ['a blank', 'map_Kd brass map.png', 'brass map.png'],
  ['a plus', 'map_Kd a+b.png', 'a+b.png'],
  ['an ampersand', 'map_Kd tide & glass.png', 'tide & glass.png'],
  ['an ampersand in XML', '<init_from>tide &amp; glass.png</init_from>', 'tide & glass.png'],
  ['an accent', 'map_Kd écume.png', 'écume.png'],
  ['an address', '<init_from>file:///tmp/%C3%A9cume.png</init_from>', 'écume.png'],
  ['another case', 'map_Kd Brass Map.PNG', 'brass map.png'],
  ['a folder that is not there', 'map_Kd C:\\work\\textures\\a+b.png', 'a+b.png'],
])('with %s', async (_, text, name) => expect(await beside(text)).toEqual([name]));

test('an accent in Latin letters', async () => {
  expect(await beside(Uint8Array.from('map_Kd écume.png', (c) => c.charCodeAt(0)))).toEqual(['écume.png']);
});
test('what its materials name comes along; what nobody names stays', async () => {
  expect(await beside('mtllib the boat.mtl\nv 0 0 0\n')).toEqual(['brass map.png', 'maps/deep.jpg', 'the boat.mtl']);
  expect(await beside('v 0 0 0\nmap_Kd another.png')).toEqual([]);
});
