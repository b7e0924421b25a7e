/** Uploads that resume, by the tus protocol 1.0: bytes are kept until the whole file is there, whatever breaks in between. */
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { TakeRequest, UploadAnswer } from '@/api';
import { INTAKE_LIMITS } from '@/core/intake';
import { keep } from './assets';
import { withTempDir } from './blobs';
import { uploadDir } from './config';
import type { Knex } from './db';
import { HttpError, notFound } from './errors';
import { newId } from './ids';
import { requireRoom, requireUploadRoom } from './quotas';
import { readFiles } from './readers';
import { type HashedFile, hashFile, readOnce } from './readonce';
import { requireDisk } from './reserve';

/** An upload nobody goes on with is kept this long. */
const KEPT_MS = 48 * 3_600_000;
const PATH = '/api/uploads';
const ACCOUNT = 'x-scaphos-account';

const folder = uploadDir;

interface Receiver {
  store: FileStore;
  server: Server;
}
let receiver: Promise<Receiver> | null = null;
async function open(): Promise<Receiver> {
  receiver ??= (async () => {
    await mkdir(folder(), { recursive: true });
    const store = new FileStore({ directory: folder(), expirationPeriodInMilliseconds: KEPT_MS });
    const server = new Server({
      path: PATH,
      datastore: store,
      maxSize: INTAKE_LIMITS.fileBytes,
      // an id begins with whose it is
      namingFunction: (request) => `${request.headers.get(ACCOUNT)}.${newId()}`,
      generateUrl: (_request, { id }) => `${PATH}/${id}`,
      getFileIdFromRequest: (request) => new URL(request.url).pathname.split('/')[3],
    });
    return { store, server };
  })();
  return receiver;
}

const ownedBy = (accountId: string, id: string) => /^[\w-]+\.[\w-]+$/.test(id) && id.startsWith(`${accountId}.`);

/** One request of the protocol. @throws {HttpError} 404 somebody else's upload, 413 too large. */
export async function receiveUpload(accountId: string, id: string | undefined, request: Request): Promise<Response> {
  if (id !== undefined && !ownedBy(accountId, id)) throw notFound('upload');
  const length = Number(request.headers.get('upload-length'));
  if (length > INTAKE_LIMITS.fileBytes)
    throw new HttpError(413, 'file/too-large', `The file has ${length} bytes; up to ${INTAKE_LIMITS.fileBytes} are read.`);
  if (request.method === 'POST' || request.method === 'PATCH')
    await requireDisk(Number.isFinite(length) && length > 0 ? length : Number(request.headers.get('content-length')) || 0);
  if (request.method === 'POST') await requireUploadRoom(accountId, Number.isFinite(length) ? length : 0);
  const headers = new Headers(request.headers);
  headers.set(ACCOUNT, accountId);
  const { server } = await open();
  // a new request: the framework's own does not let its headers be set
  const init: RequestInit & { duplex?: 'half' } = {
    method: request.method,
    headers,
    body: request.body,
    duplex: 'half',
    signal: request.signal,
  };
  return server.handleWeb(new Request(request.url, init));
}

/**
 * Takes finished uploads into a yard as what was dropped together. They are gone afterwards, but where the server itself failed.
 * @throws {HttpError} 404 not there, 409 not all here yet, 422 damaged on the way or not readable
 */
export async function takeUploads(
  db: Knex,
  yardId: string,
  accountId: string,
  asked: TakeRequest,
  signal: AbortSignal,
): Promise<UploadAnswer> {
  const ids = asked.uploads.map((u) => u.id);
  // who asks again, since no answer came, waits for the first: it is taken, or still there
  for (let before = ids.find((id) => underWay.has(id)); before; before = ids.find((id) => underWay.has(id)))
    await underWay.get(before)?.catch(() => undefined);
  const work = take(db, yardId, accountId, asked, signal);
  for (const id of ids) underWay.set(id, work);
  return work.finally(() => {
    for (const id of ids) underWay.delete(id);
  });
}

const held = globalThis as { scaphosTaken?: Map<string, Promise<unknown>> };
held.scaphosTaken ??= new Map();
const underWay = held.scaphosTaken;

async function take(db: Knex, yardId: string, accountId: string, { uploads }: TakeRequest, signal: AbortSignal): Promise<UploadAnswer> {
  await requireDisk(0);
  const { store } = await open();
  let bytes = 0;
  for (const { id, name } of uploads) {
    const found = ownedBy(accountId, id) ? await store.getUpload(id).catch(() => null) : null;
    if (!found) throw notFound('upload');
    if (found.offset !== found.size)
      throw new HttpError(
        409,
        'upload/unfinished',
        `${name} is not all here: ${found.offset} of ${found.size} bytes. It goes on where it stopped.`,
      );
    bytes += found.offset;
  }
  await requireRoom(db, yardId, bytes);
  const forget = async () => {
    for (const { id } of uploads) await store.remove(id).catch(() => undefined);
  };
  try {
    const files: HashedFile[] = [];
    for (const { id, name, sha256: sent } of uploads) {
      const path = join(folder(), id);
      const sha256 = await hashFile(path);
      if (sent && sha256 !== sent)
        throw new HttpError(
          422,
          'upload/damaged',
          `${name} was damaged on its way: its bytes are not those that were sent. Drop it again.`,
        );
      files.push({ name, path, sha256 });
    }
    const answer = await withTempDir(async (dir) => {
      const out = join(dir, 'out');
      const done = await readOnce(accountId, files, out, () => readFiles(yardId, files, out, signal));
      return keep(db, yardId, done, out);
    });
    // who hung up has not heard that it was taken, and may ask again
    if (!signal.aborted) await forget();
    return answer;
  } catch (error) {
    // what cannot be read is not kept; what failed for another reason can be taken again
    if (error instanceof HttpError && error.status < 500 && !signal.aborted) await forget();
    throw error;
  }
}

/** Drops uploads nobody went on with. */
export async function sweepUploads(): Promise<void> {
  await (await open()).server.cleanUpExpiredUploads();
}
