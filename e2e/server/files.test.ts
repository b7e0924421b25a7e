import { createHash, randomBytes } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { simulateCapture } from '@/core/capture';
import { libraryFinish } from '@/core/finish';
import { SKELETONS } from '@/core/form';
import { createGltfIo, readModel } from '@/core/intake';
import { boxGlb, rawGlb } from '@/core/intake/samples';
import { add, copyFinishRow, createModelPart, drawnModel, PIECE_SCHEMA, type Piece, remove } from '@/core/piece';
import { stageStill, worldVertices } from '@/core/run';
import { collectBlobs } from '@/server/blobs';
import { closeTestDatabase, signedIn, testDatabase, type Visitor } from '../support/http';
import { inTurn } from '../support/sweep';

afterAll(closeTestDatabase);
const sha256 = (b: Uint8Array) => createHash('sha256').update(b).digest('hex');
const blobCount = () => {
  const dir = join(process.env.SCAPHOS_DATA as string, 'blobs');
  return existsSync(dir) ? readdirSync(dir, { recursive: true, withFileTypes: true }).filter((e) => e.isFile()).length : 0;
};
const leftovers = () => readdirSync(join(process.env.SCAPHOS_DATA as string, 'tmp'));
const MODELS = '/usr/share/assimp/models/glTF2';

let v: Visitor;
let piece: string;
beforeAll(async () => {
  v = await signedIn();
  piece = await v.newPiece();
});

describe('uploads', () => {
  test.runIf(inTurn('64 MB arrive bit by bit'))(
    '64 MB arrive bit by bit: the SHA-256 of what comes back is that of what went in',
    async () => {
      const bytes = 64 * 1024 * 1024;
      const glb = rawGlb({ asset: { version: '2.0' }, buffers: [{ byteLength: bytes }] }, randomBytes(bytes));
      const answer = await v.upload(piece, [['large.glb', glb]]);
      expect(answer.status).toBe(201);
      const back = await v.get(`/api/pieces/${piece}/assets/${answer.body.items[0].item.original}`);
      expect(sha256(back.body)).toBe(sha256(glb));
      expect(answer.body.items[0].item.original).toBe(sha256(glb));
    },
  );

  test.runIf(existsSync(MODELS))('a glTF with its files, in one go and as a zip in folders, is the same model', async () => {
    const dir = `${MODELS}/BoxTextured-glTF`;
    const files = readdirSync(dir).map((n): [string, Uint8Array] => [n, readFileSync(join(dir, n))]);
    const loose = await v.upload(piece, files);
    const zip = zipSync(
      Object.fromEntries(
        files.map(([n, b]) => [n.endsWith('.gltf') ? `model/${n}` : `model/files/../${n}`.replace('files/../', ''), new Uint8Array(b)]),
      ),
    );
    const zipped = await v.upload(piece, [['box.zip', zip]]);
    expect([loose.status, zipped.status]).toEqual([201, 201]);
    expect(loose.body.items[0].asset.facts).toMatchObject({
      format: 'gltf',
      triangles: 12,
      vertices: 24,
      sizeMm: [1000, 1000, 1000],
      missing: [],
    });
    expect(loose.body.items[0].asset.facts.textures[0]).toMatchObject({ width: 211, height: 211, type: 'image/png' });
    expect(zipped.body.items[0].item.model).toBe(loose.body.items[0].item.model);
    expect((await v.upload(piece, [files.find(([n]) => n.endsWith('.gltf')) as [string, Uint8Array]])).body.error.code).toBe(
      'file/missing-buffer',
    );
  });

  const zipOf = (files: Record<string, Uint8Array>) => zipSync(files);
  test.each<[string, () => Promise<[string, Uint8Array][]>, string]>([
    ['an empty file', async () => [['empty.glb', new Uint8Array()]], 'file/empty'],
    ['a GLB cut in half', async () => [['half.glb', (await boxGlb()).slice(0, 900)]], 'glb/truncated'],
    ['a picture named .glb', async () => [['not.glb', new Uint8Array([0x89, 0x50, 0x4e, 0x47, 1, 2, 3])]], 'file/wrong-name'],
    [
      'a broken picture',
      async () => [['torn.png', new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 1, 2, 3])]],
      'picture/unreadable',
    ],
    [
      'an STL that lies about its triangles',
      async () => [['lie.stl', Uint8Array.from({ length: 134 }, (_, i) => (i === 80 ? 9 : 0))]],
      'stl/truncated',
    ],
    [
      'an FBX of random bytes',
      async () => [
        [
          'noise.fbx',
          Uint8Array.from({ length: 4000 }, (_, i) =>
            i < 21 ? 'Kaydara FBX Binary  \0'.charCodeAt(i) : i === 24 ? 0x1c : i === 23 ? 0xe8 : i < 27 ? 0 : (i * 7919) % 251,
          ),
        ],
      ],
      'fbx/truncated',
    ],
    ['a 3DS shorter than it says', async () => [['short.3ds', Uint8Array.from([0x4d, 0x4d, 0xff, 0xff, 0, 0, 0])]], '3ds/truncated'],
    ['a file of no kind', async () => [['notes.txt', strToU8('hello')]], 'file/unknown'],
    [
      'two models at once in a zip',
      async () => [['two.zip', zipOf({ 'a.glb': await boxGlb(), 'b.glb': await boxGlb([1, 1, 1]) })]],
      'file/several',
    ],
    ['a zip that leads outside', async () => [['out.zip', zipOf({ '../evil.glb': await boxGlb() })]], 'zip/broken'],
    ['a zip that unpacks to 300 times its size', async () => [['bomb.zip', zipOf({ 'a.bin': new Uint8Array(50e6) })]], 'zip/bomb'],
    [
      'nodes 20 000 deep',
      async () => [
        [
          'deep.gltf',
          strToU8(
            JSON.stringify({
              asset: { version: '2.0' },
              nodes: Array.from({ length: 20_000 }, (_, i) => (i < 19_999 ? { children: [i + 1] } : {})),
            }),
          ),
        ],
      ],
      'gltf/too-deep',
    ],
  ])('%s: a code, a sentence, and nothing left behind', async (_, make, code) => {
    const before = blobCount();
    const health = v.get('/api/health');
    const answer = await v.upload(piece, await make());
    expect(answer.body.error?.code).toBe(code);
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect(answer.body.error.message).toMatch(/[.?]$/);
    expect((await health).body.ok).toBe(true);
    expect((await v.get('/api/health')).body.ok).toBe(true);
    expect(blobCount()).toBe(before);
    expect(leftovers()).toEqual([]);
  });
});

/** Said by the user: own work may be delivered. */
const OWN = { author: '', source: '', licence: 'own-work' };

describe('bundles', () => {
  test('read into another yard give the same piece, the same blobs, the same package; one byte edited, nothing', async () => {
    const item = { ...(await v.upload(piece, [['box.glb', await boxGlb([0.07, 0.02, 0.05])]])).body.items[0].item, credit: OWN };
    const made = await v.newPiece('Travelling box');
    await v.post(`/api/pieces/${made}/edits`, {
      saveId: 's',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [
        add('stock', { id: 's', ...item }),
        add('parts', { ...createModelPart('p', 's', 'Box'), offset: { positionM: [0, 0.03, 0.1], turnRad: [0, 1, 0], size: [2, 2, 2] } }),
      ],
    });
    const bundle = (await v.get(`/api/pieces/${made}/packages/bundle`)).body as Uint8Array;
    const glb = sha256((await v.get(`/api/pieces/${made}/packages/glb`)).body);
    const a = (await v.get(`/api/pieces/${made}`)).body;
    const placed = async (who: Visitor, id: string) => {
      const { document } = (await who.get(`/api/pieces/${id}`)).body as { document: Piece };
      const bytes = (await who.get(`/api/pieces/${id}/assets/${drawnModel(document, 's')}`)).body;
      const model = readModel(await createGltfIo({}).readBinary(bytes));
      const staged = stageStill(
        document,
        { models: { [drawnModel(document, 's') as string]: model } },
        simulateCapture({ yawDeg: 20, pitchDeg: 5, rollDeg: 0 }, SKELETONS.M),
      ).parts[1];
      return worldVertices(staged, model).map((p) => [...p.positions]);
    };
    const before = await placed(v, made);
    // empty the place first: the piece, its revisions and every blob of it are gone for good
    await v.call('DELETE', `/api/pieces/${made}`);
    await collectBlobs(testDatabase(), new Date(Date.now() + 31 * 86_400_000));
    await collectBlobs(testDatabase(), new Date(Date.now() + 90 * 86_400_000));
    expect((await v.get(`/api/pieces/${piece}/assets/${item.original}`)).status).toBe(404);
    const other = await signedIn();
    const there = await other.call('POST', `/api/yards/${other.yard}/bundles`, bundle);
    expect(there.status).toBe(201);
    const b = (await other.get(`/api/pieces/${there.body.id}`)).body;
    expect(b.document).toEqual(a.document);
    expect(b.assets).toEqual(a.assets);
    expect(sha256((await other.get(`/api/pieces/${there.body.id}/packages/glb`)).body)).toBe(glb);
    expect(await placed(other, there.body.id)).toEqual(before);
    const edited = bundle.slice();
    edited[Math.floor(bundle.length / 2)] ^= 4;
    const pieces = (await other.get(`/api/yards/${other.yard}/pieces`)).body.length;
    const refused = await other.call('POST', `/api/yards/${other.yard}/bundles`, edited);
    expect([refused.status, refused.body.error.code]).toEqual([422, 'bundle/altered']);
    expect((await other.get(`/api/yards/${other.yard}/pieces`)).body.length).toBe(pieces);
  });
});

describe('collectBlobs', () => {
  test('a blob stays while a revision names it, and goes 30 days after the last one did', async () => {
    const db = testDatabase();
    const days = (n: number) => new Date(Date.now() + n * 86_400_000);
    const [kept, loose] = [
      (await v.upload(piece, [['kept.glb', await boxGlb([0.011, 0.012, 0.013])]])).body.items[0].item,
      (await v.upload(piece, [['loose.glb', await boxGlb([0.021, 0.022, 0.023])]])).body.items[0].item,
    ];
    const holder = await v.newPiece('Holder');
    await v.post(`/api/pieces/${holder}/edits`, {
      saveId: 'a',
      baseRevision: 0,
      schema: PIECE_SCHEMA,
      edits: [add('stock', { id: 's', ...kept })],
    });
    // out of the document, but a revision still names it
    await v.post(`/api/pieces/${holder}/edits`, { saveId: 'b', baseRevision: 1, schema: PIECE_SCHEMA, edits: [remove('stock', 's')] });
    const has = async (sha: string) => (await v.get(`/api/pieces/${piece}/assets/${sha}`)).status === 200;
    await collectBlobs(db, days(29));
    expect([await has(kept.original), await has(loose.original)]).toEqual([true, true]);
    await collectBlobs(db, days(40));
    expect([await has(kept.original), await has(loose.original)]).toEqual([true, false]);
    // a finish of the yard names it, too
    const clip = copyFinishRow({ stock: {}, recipes: {} }, libraryFinish('brass', 'a'));
    await v.post(`/api/yards/${v.yard}/finishes`, { name: 'Holds', clip: { ...clip, stock: [{ ...kept, id: 's' }] } });
    await v.call('DELETE', `/api/pieces/${holder}`);
    await collectBlobs(db, days(75));
    await collectBlobs(db, days(110));
    expect(await has(kept.original)).toBe(true);
    for (const f of (await v.get(`/api/yards/${v.yard}/finishes`)).body) await v.call('DELETE', `/api/yards/${v.yard}/finishes/${f.id}`);
    await collectBlobs(db, days(120));
    await collectBlobs(db, days(145));
    expect(await has(kept.original)).toBe(false);
  });
});
