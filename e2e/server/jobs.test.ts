/** The job queue on a real database: order, fairness, stopping, a server that dies; and jobs over the routes. */

import { Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { BatchResult, JobAnswer, JobRequest, JobResult, MeasureResult, NamedRecipe } from '@/api';
import { NO_LIMITS } from '@/core/prepare';
import { blob, rippledTorus, surfaceDocument } from '@/core/prepare/samples';
import { JobQueue, type JobRunner } from '@/server/jobs';
import { JobError } from '@/worker/node';
import { closeTestDatabase, signedIn, siteUrl, testDatabase, type Visitor } from '../support/http';
import { inTurn } from '../support/sweep';

afterAll(closeTestDatabase);

type Single = Exclude<JobRequest, { job: 'batch' }>;
const targetOf = (r: JobRequest) => (r as Single).target;
const request = (name: string): JobRequest => ({
  job: 'measure',
  target: { stock: 's', original: 'a'.repeat(64), model: 'a'.repeat(64), name, kind: null },
  steps: [],
});
const RESULT = { job: 'measure' } as JobResult;
const until = async (what: () => unknown) => {
  for (let i = 0; i < 600 && !(await what()); i++) await new Promise((r) => setTimeout(r, 20));
  expect(await what()).toBeTruthy();
};

describe('the queue', () => {
  let one: Visitor;
  let two: Visitor;
  const pieces: Record<string, string> = {};
  beforeAll(async () => {
    [one, two] = [await signedIn(), await signedIn()];
    for (const [name, v] of [
      ['one', one],
      ['two', two],
    ] as const)
      pieces[name] = await v.newPiece();
  });
  /** A queue whose jobs end when they are told to. */
  const make = () => {
    const begun: string[] = [];
    const ends = new Map<string, { done: () => void; fail: (e: Error) => void }>();
    const run: JobRunner = ({ request: r }, { signal, progress }) =>
      new Promise((resolve, reject) => {
        begun.push(targetOf(r).name);
        progress({ share: 0.5, what: 'half way' });
        signal.addEventListener('abort', () => reject(new JobError('job/stopped', 'Stopped.')));
        ends.set(targetOf(r).name, { done: () => resolve(RESULT), fail: reject });
      });
    return { queue: new JobQueue(testDatabase(), run), begun, ends };
  };

  test('two yards take turns, however many jobs one of them has', async () => {
    const { queue, begun, ends } = make();
    for (const name of ['a', 'b', 'c']) await queue.add(one.yard, pieces.one, request(name));
    await queue.add(two.yard, pieces.two, request('x'));
    for (let n = 1; n <= 4; n++) {
      await until(() => begun.length === n);
      ends.get(begun[n - 1])?.done();
    }
    await queue.idle();
    expect(begun).toEqual(['a', 'x', 'b', 'c']);
    expect((await queue.list(pieces.one)).map((j) => j.state)).toEqual(['done', 'done', 'done']);
  });

  test('a job of many parts gives way between them: one of another yard each time, none of its own', async () => {
    const did: string[] = [];
    const parts: JobRunner = async ({ yardId, request: r }, { giveWay }) => {
      const { name } = targetOf(r);
      for (let part = 1; part <= (yardId === one.yard ? 3 : 1); part++) {
        if (part > 1) await giveWay();
        did.push(`${name}${part}`);
        // the others come while the first part is done
        if (did.length === 1) for (const n of ['x', 'y']) await queue.add(two.yard, pieces.two, request(n));
        if (did.length === 1) await queue.add(one.yard, pieces.one, request('b'));
      }
      return RESULT;
    };
    const queue: JobQueue = new JobQueue(testDatabase(), parts);
    await queue.add(one.yard, pieces.one, request('a'));
    await queue.idle();
    expect(did).toEqual(['a1', 'x1', 'a2', 'y1', 'a3', 'b1', 'b2', 'b3']);
    expect((await queue.list(pieces.two)).every((j) => j.state === 'done')).toBe(true);
  });

  test('every change is heard; a job that fails says why; one that broke says so without the details', async () => {
    const { queue, begun, ends } = make();
    const heard: string[] = [];
    const deaf = queue.listen(pieces.one, (j) => heard.push(`${targetOf(j.request).name} ${j.state} ${j.what}`.trim()));
    await queue.add(one.yard, pieces.one, request('tells'));
    await until(() => begun.includes('tells'));
    ends.get('tells')?.fail(new JobError('file/unreadable', 'It is broken.'));
    await queue.add(one.yard, pieces.one, request('breaks'));
    await until(() => begun.includes('breaks'));
    ends.get('breaks')?.fail(new Error('at secret place'));
    await queue.idle();
    deaf();
    expect(heard.filter((h) => h.startsWith('tells'))).toEqual([
      'tells queued',
      'tells running',
      'tells running half way',
      'tells failed half way',
    ]);
    const errors = (await queue.list(pieces.one)).slice(-2).map((j) => j.error);
    expect(errors).toEqual([
      { code: 'file/unreadable', message: 'It is broken.' },
      { code: 'job/failed', message: expect.not.stringContaining('secret') },
    ]);
  });

  test('of jobs that ended the last twenty of a piece are kept, those of other pieces as they are', async () => {
    const { queue, begun, ends } = make();
    const [mine, theirs] = [await one.newPiece(), await two.newPiece()];
    const { id } = await queue.add(one.yard, mine, request('first'));
    await until(() => begun.length === 1);
    ends.get('first')?.done();
    const row = async (job: string) => testDatabase()('jobs').where({ id: job }).first();
    await until(async () => (await row(id)).state === 'done');
    const like = await row(id);
    const old = (piece: string, n: number) => ({
      ...like,
      id: `${piece.slice(0, 20)}-${String(n).padStart(3, '0')}`,
      piece_id: piece,
      created_at: new Date(Date.now() - 1_000_000 - n * 1000),
    });
    const ended = (piece: string) => Array.from({ length: 23 }, (_, n) => old(piece, n));
    await testDatabase()('jobs').insert([...ended(mine), ...ended(theirs)]);
    await queue.add(one.yard, mine, request('second'));
    const left = async (piece: string): Promise<string[]> =>
      testDatabase()('jobs').where({ piece_id: piece }).orderBy('created_at', 'desc').pluck('id');
    // the one that was added waits or runs and is no old one; of the others the youngest
    expect((await left(mine)).slice(1)).toEqual([
      id,
      ...ended(mine)
        .slice(0, 19)
        .map((r) => r.id),
    ]);
    expect(await left(theirs)).toHaveLength(23);
    await until(() => begun.length === 2);
    ends.get('second')?.done();
    await testDatabase()('jobs').whereIn('piece_id', [mine, theirs]).delete();
  });

  test('a job that waits or runs can be stopped, and begun again', async () => {
    const { queue, begun, ends } = make();
    const running = await queue.add(one.yard, pieces.one, request('runs'));
    const waiting = await queue.add(one.yard, pieces.one, request('waits'));
    await until(() => begun.includes('runs'));
    expect((await queue.stop(pieces.one, waiting.id)).state).toBe('stopped');
    expect((await queue.list(pieces.one)).find((j) => j.id === running.id)?.state).toBe('running');
    expect((await queue.stop(pieces.one, running.id)).state).toBe('stopped');
    await queue.idle();
    expect(begun).not.toContain('waits');
    await queue.retry(pieces.one, waiting.id);
    await until(() => begun.includes('waits'));
    ends.get('waits')?.done();
    await queue.idle();
    const states = Object.fromEntries((await queue.list(pieces.one)).map((j) => [targetOf(j.request).name, j.state]));
    expect([states.runs, states.waits]).toEqual(['stopped', 'done']);
    await expect(queue.stop(pieces.two, running.id)).rejects.toMatchObject({ status: 404 });
  });

  test('what a killed server was at is begun again by the next, but not for ever', async () => {
    const first = make();
    const job = await first.queue.add(two.yard, pieces.two, request('survives'));
    await until(() => first.begun.includes('survives'));
    for (let n = 0; n < 2; n++) {
      const next = make();
      await next.queue.resume();
      await until(() => next.begun.includes('survives'));
    }
    const last = make();
    await last.queue.resume();
    await last.queue.idle();
    expect(last.begun).toEqual([]);
    const kept = (await last.queue.list(pieces.two)).find((j) => j.id === job.id);
    expect([kept?.state, kept?.error?.code]).toEqual(['failed', 'job/died']);
  });
});

/** Reads server-sent events until one is wanted. */
async function hear(visitor: Visitor, piece: string, wanted: (j: JobAnswer) => boolean): Promise<JobAnswer[]> {
  const stop = new AbortController();
  const response = await fetch(`${siteUrl()}/api/pieces/${piece}/jobs/events`, { headers: visitor.headers(), signal: stop.signal });
  expect(response.headers.get('content-type')).toContain('text/event-stream');
  const heard: JobAnswer[] = [];
  let text = '';
  const reader = (response.body as ReadableStream<Uint8Array>)
    .pipeThrough(new TextDecoderStream() as never)
    .getReader() as ReadableStreamDefaultReader<string>;
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return heard;
    text += value;
    const lines = text.split('\n\n');
    text = lines.pop() ?? '';
    for (const line of lines)
      if (line.startsWith('data: ')) {
        const job = JSON.parse(line.slice(6)) as JobAnswer;
        heard.push(job);
        if (wanted(job)) {
          stop.abort();
          return heard;
        }
      }
  }
}

describe('over the routes', () => {
  let v: Visitor;
  let piece: string;
  let target: Single['target'];
  beforeAll(async () => {
    v = await signedIn();
    piece = await v.newPiece();
    const glb = await new WebIO().writeBinary(surfaceDocument('blob', blob(0.08), 48, 24));
    const { item } = (await v.upload(piece, [['blob.glb', glb]])).body.items[0];
    target = { stock: 's', original: item.original, model: item.model, name: 'blob.glb', kind: null };
  });

  test('a recipe is run under measure: progress is heard, each step costed, what it yields is in the yard', async () => {
    const steps = [
      {
        id: 'a',
        on: true,
        step: 'simplify',
        settings: { ratio: 0.4, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] },
      },
      { id: 'b', on: true, step: 'compress', settings: { method: 'draco' } },
    ];
    const added = await v.post(`/api/pieces/${piece}/jobs`, { job: 'measure', target, steps });
    expect(added.status).toBe(202);
    const heard = await hear(v, piece, (j) => j.id === added.body.id && j.state === 'done');
    expect(heard.some((j) => j.state === 'running' && j.share > 0)).toBe(true);
    const result = heard.at(-1)?.result;
    if (result?.job !== 'measure') throw new Error('no result');
    expect(result.steps.map((s) => s.step)).toEqual(['simplify', 'compress']);
    expect(result.steps[0].savedTriangles).toBeGreaterThan(1_000);
    expect(result.steps[1].e).toBeGreaterThan(0);
    expect(result.parts.after.reduce((s, p) => s + p.bytes, 0)).toBe(result.after.bytes);
    expect((await v.get(`/api/pieces/${piece}/assets/${result.asset?.model}`)).status).toBe(200);
    expect((await v.get(`/api/pieces/${piece}/jobs`)).body).toHaveLength(1);
  });

  test('a search can be stopped while it runs, and other answers come meanwhile', async () => {
    const added = await v.post(`/api/pieces/${piece}/jobs`, { job: 'solve', target, steps: [], limits: { ...NO_LIMITS, bytes: 6_000 } });
    await hear(v, piece, (j) => j.id === added.body.id && j.state === 'running' && j.share > 0);
    const from = performance.now();
    expect((await v.get(`/api/pieces/${piece}`)).status).toBe(200);
    expect(performance.now() - from).toBeLessThan(2_000);
    expect((await v.call('DELETE', `/api/pieces/${piece}/jobs/${added.body.id}`)).body.state).toBe('stopped');
    const after = (await v.get(`/api/pieces/${piece}/jobs`)).body as JobAnswer[];
    expect(after.find((j) => j.id === added.body.id)?.state).toBe('stopped');
  });

  test.runIf(inTurn('many models as one job'))(
    'many models as one job: each has its row, one that cannot be prepared holds up none of the others',
    async () => {
      // a bead each: small on the screen, so their searches are short
      const bring = async (name: string, document: Document) => {
        const { item } = (await v.upload(piece, [[name, await new WebIO().writeBinary(document)]])).body.items[0];
        return { stock: name[0], original: item.original, model: item.model, name, kind: null };
      };
      const one = await bring('bead.glb', surfaceDocument('bead', blob(0.008), 12, 6));
      const other = await bring('torus.glb', surfaceDocument('torus', rippledTorus(0.006, 0.002, 5), 12, 6));
      const limits = { ...NO_LIMITS, bytes: 2_000 };
      const added = await v.post(`/api/pieces/${piece}/jobs`, { job: 'batch', targets: [one, other], steps: [], limits });
      expect(added.status).toBe(202);
      const heard = await hear(v, piece, (j) => j.id === added.body.id && j.state === 'done');
      expect(heard.some((j) => j.what.startsWith('torus.glb: '))).toBe(true);
      const result = heard.at(-1)?.result;
      if (result?.job !== 'batch') throw new Error('no result');
      expect(result.rows.map((r) => [r.name, r.met, r.failed])).toEqual([
        ['bead.glb', true, null],
        ['torus.glb', true, null],
      ]);
      for (const r of result.rows) {
        expect(r.after?.bytes).toBeLessThanOrEqual(2_000);
        expect(r.steps.at(-1)?.step).toBe('compress');
        expect((await v.get(`/api/pieces/${piece}/assets/${r.asset?.model}`)).status).toBe(200);
      }
      // nodes alone: nothing of it could be made lighter
      const bare = new Document();
      bare.createScene().addChild(bare.createNode('nothing'));
      const lone = await bring('empty.glb', bare);
      const half = await v.post(`/api/pieces/${piece}/jobs`, { job: 'batch', targets: [lone, other], steps: [], limits });
      const done = (await hear(v, piece, (j) => j.id === half.body.id && j.state === 'done')).at(-1)?.result as BatchResult;
      expect(done.rows.map((r) => r.failed !== null)).toEqual([true, false]);
      expect(done.rows[0].failed).toMatch(/no shapes and no clips/);
      const nowhere = { ...other, model: 'b'.repeat(64) };
      expect(
        (await v.post(`/api/pieces/${piece}/jobs`, { job: 'batch', targets: [target, nowhere], steps: [], limits: null })).status,
      ).toBe(404);
    },
    300_000,
  );

  test('what wears KTX2 is delivered with it, and drawn with pictures a page can read', async () => {
    const document = surfaceDocument('painted', blob(0.08), 24, 12);
    const picture = await sharp({ create: { width: 64, height: 64, channels: 3, background: '#8a4a20' } })
      .png()
      .toBuffer();
    const texture = document.createTexture('paint').setImage(new Uint8Array(picture)).setMimeType('image/png');
    document.getRoot().listMaterials()[0].setBaseColorTexture(texture);
    const { item } = (await v.upload(piece, [['painted.glb', await new WebIO().writeBinary(document)]])).body.items[0];
    const painted = { stock: 'k', original: item.original, model: item.model, name: 'painted.glb', kind: null };
    const encoding = { role: 'color', maxEdge: 64, format: 'ktx2', quality: 80 };
    const steps = [{ id: 'p', on: true, step: 'pictures', settings: { roles: [encoding], textures: [] } }];
    const added = await v.post(`/api/pieces/${piece}/jobs`, { job: 'measure', target: painted, steps });
    const done = (await hear(v, piece, (j) => j.id === added.body.id && j.state === 'done')).at(-1)?.result as MeasureResult;
    expect(done.after.deviceBytes).toBeLessThan(done.before.deviceBytes);
    const types = async (path: string) => {
      const { json } = await new WebIO().registerExtensions(ALL_EXTENSIONS).binaryToJSON((await v.get(path)).body);
      return [json.images?.map((i) => i.mimeType), json.extensionsUsed?.filter((e) => e === 'KHR_texture_basisu') ?? []];
    };
    const at = `/api/pieces/${piece}/assets/${done.asset?.model}`;
    expect(await types(at)).toEqual([['image/ktx2'], ['KHR_texture_basisu']]);
    expect(await types(`${at}/drawn`)).toEqual([['image/png'], []]);
    // what wears none is drawn as it is
    const plain = `/api/pieces/${piece}/assets/${item.model}`;
    expect((await v.get(`${plain}/drawn`)).body).toEqual((await v.get(plain)).body);
  });

  test('a yard keeps recipes under their names: over an older one of that name, and out again', async () => {
    const at = `/api/yards/${v.yard}/recipes`;
    const half = { step: 'simplify', settings: { ratio: 0.5, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [] } };
    expect((await v.get(at)).body).toEqual([]);
    await v.post(at, { name: 'Half', steps: [half] });
    const two = (await v.post(at, { name: 'Ground', steps: [{ step: 'ground', settings: {}, on: false }] })).body as NamedRecipe[];
    expect(two.map((r) => r.name)).toEqual(['Ground', 'Half']);
    expect(two[1].steps[0]).toEqual({ ...half, on: true, settings: { ...half.settings, keep: [] } });
    const again = (await v.post(at, { name: 'Half', steps: [half, half] })).body as NamedRecipe[];
    expect(again.map((r) => r.steps.length)).toEqual([1, 2]);
    expect(((await v.call('DELETE', `${at}/${two[0].id}`)).body as NamedRecipe[]).map((r) => r.name)).toEqual(['Half']);
    expect((await v.call('DELETE', `${at}/${two[0].id}`)).status).toBe(404);
    const bad = await v.post(at, { name: 'No', steps: [{ step: 'trim', settings: { fromS: 0, toS: 1 } }] });
    expect(bad.status).toBe(400);
  });

  test('what is not in the yard, no model, or no step for it is refused before it waits', async () => {
    const ask = (change: object) => v.post(`/api/pieces/${piece}/jobs`, { job: 'measure', target, steps: [], ...change });
    expect((await ask({ target: { ...target, model: 'b'.repeat(64) } })).status).toBe(404);
    const step = await ask({ steps: [{ id: 'a', on: true, step: 'trim', settings: { fromS: 0, toS: 1 } }] });
    expect([step.status, step.body.error.code]).toEqual([422, 'recipe/kind']);
    expect((await ask({ job: 'fly' })).status).toBe(400);
  });
});
