/** What every route shares: session, origin, parsing, errors as JSON, one log line. */
import { cookies } from 'next/headers';
import * as z from 'zod';
import { PieceFormatError } from '@/core/piece';
import { type Account, DEVICE_DAYS, SESSION_COOKIE, SESSION_DAYS, sessionAccount } from './accounts';
import { readBody } from './body';
import { database, type Knex } from './db';
import { HttpError } from './errors';
import { hostOf, MISDIRECTED } from './hosts';
import { log } from './log';
import { countRequest } from './metrics';
import { DEVICE_COOKIE } from './signin';
import { isStopping } from './stopping';

const JSON_BYTES = 8_000_000;
/** What somebody who is not known yet may send. */
export const STRANGER_BYTES = 20_000;

export interface Call<P> {
  request: Request;
  params: P;
  db: Knex;
}
export type SignedCall<P> = Call<P> & { account: Account };

const WRITES = new Set(['POST', 'PUT', 'PATCH', 'DELETE']);

/** Writes are taken only from our own pages. */
function checkOrigin(request: Request): void {
  if (!WRITES.has(request.method)) return;
  const origin = request.headers.get('origin');
  if (origin === null || !URL.canParse(origin) || new URL(origin).host !== hostOf(request.headers))
    throw new HttpError(403, 'http/origin', 'This request did not come from a page of this Scaphos. Open it at its own address.');
}

function answerError(error: unknown): Response {
  if (error instanceof HttpError)
    return Response.json({ error: { code: error.code, message: error.message, details: error.details } }, { status: error.status });
  if (error instanceof z.ZodError) {
    const first = error.issues[0];
    return Response.json(
      { error: { code: 'http/shape', message: `The request is wrong at ${first.path.join('.') || 'its root'}: ${first.message}.` } },
      { status: 400 },
    );
  }
  if (error instanceof PieceFormatError) return Response.json({ error: { code: error.code, message: error.message } }, { status: 422 });
  const code = (error as { code?: string }).code ?? '';
  // of the system, of MariaDB's tables, of its temporary files
  if (/^(ENOSPC|EDQUOT|ER_RECORD_FILE_FULL|ER_DISK_FULL)$/.test(code) || /errno: 28\b/.test((error as Error).message))
    return Response.json(
      {
        error: {
          code: 'http/full',
          message: 'The server has no room left on its disk. What you did is kept in the browser; it is sent when there is room again.',
        },
      },
      { status: 507 },
    );
  if (
    /^(ECONNREFUSED|ECONNRESET|EPIPE|PROTOCOL_CONNECTION_LOST|ER_CON|ETIMEDOUT|ER_SERVER_SHUTDOWN)/.test(code) ||
    (error as Error).name === 'KnexTimeoutError' ||
    /connection is in closed state/.test((error as Error).message)
  )
    return Response.json(
      {
        error: {
          code: 'http/database',
          message: 'The database does not answer. What you did is kept in the browser; it is sent when it is back.',
        },
      },
      { status: 503 },
    );
  return Response.json(
    { error: { code: 'http/failed', message: 'Something went wrong on the server; it is written in its log. Try again.' } },
    { status: 500 },
  );
}

type Context<P> = { params: Promise<P> };

/** A route anyone may call. */
export function openRoute<P = Record<string, never>>(work: (call: Call<P>) => Promise<Response>) {
  return async (request: Request, context: Context<P>): Promise<Response> => {
    const started = performance.now();
    let response: Response;
    try {
      if (isStopping())
        throw new HttpError(
          503,
          'http/stopping',
          'The server is being restarted. What you did is kept in the browser; it is sent when it is back.',
        );
      if (hostOf(request.headers) === null) throw new HttpError(421, 'http/host', MISDIRECTED);
      checkOrigin(request);
      response = await work({ request, params: await context.params, db: database() });
    } catch (error) {
      response = answerError(error);
      if (response.status >= 500) log.error({ err: error, url: new URL(request.url).pathname }, 'request failed');
    }
    if (request.method === 'HEAD' && response.body) {
      // nobody reads it: what it would come from is closed
      await response.body.cancel().catch(() => undefined);
      response = new Response(null, response);
    }
    const { pathname } = new URL(request.url);
    const ms = Math.round(performance.now() - started);
    countRequest(request.method, pathname, response.status, ms);
    log.info({ method: request.method, url: pathname, status: response.status, ms }, 'request');
    return response;
  };
}

/** A route for signed-in accounts. */
export function signedRoute<P = Record<string, never>>(work: (call: SignedCall<P>) => Promise<Response>) {
  return openRoute<P>(async (call) => {
    const account = await currentAccount(call.db);
    if (!account) throw new HttpError(401, 'account/signed-out', 'You are signed out. Sign in again; what you did is kept in the browser.');
    return work({ ...call, account });
  });
}

export async function currentAccount(db: Knex): Promise<Account | null> {
  return sessionAccount(db, (await cookies()).get(SESSION_COOKIE)?.value);
}

/** @throws {HttpError} 400 not JSON, 413 more than `most` bytes, or {z.ZodError} of another shape. */
export async function readJson<T extends z.ZodTypeAny>(request: Request, schema: T, most = JSON_BYTES): Promise<z.infer<T>> {
  if (!(request.headers.get('content-type') ?? '').startsWith('application/json')) throw new HttpError(415, 'http/json', 'Send JSON.');
  const tooLarge = new HttpError(413, 'http/too-large', `The request has more than ${most / 1e6} MB.`);
  const text = new TextDecoder().decode(await readBody(request, most, tooLarge));
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new HttpError(400, 'http/json', 'The request is not JSON.');
  }
  return schema.parse(body);
}

/** Behind a proxy that says so, cookies travel only over TLS. */
const isSecure = (request: Request) => request.headers.get('x-forwarded-proto') === 'https' || new URL(request.url).protocol === 'https:';

const keepCookie = async (request: Request, name: string, token: string, days: number) =>
  void (await cookies()).set(name, token, {
    httpOnly: true,
    sameSite: 'lax',
    secure: isSecure(request),
    path: '/',
    maxAge: days * 86_400,
  });
export const setSession = (request: Request, token: string) => keepCookie(request, SESSION_COOKIE, token, SESSION_DAYS);
export const setDevice = (request: Request, token: string) => keepCookie(request, DEVICE_COOKIE, token, DEVICE_DAYS);
export const sessionToken = async () => (await cookies()).get(SESSION_COOKIE)?.value;
export const deviceToken = async () => (await cookies()).get(DEVICE_COOKIE)?.value;

export async function clearSession(): Promise<string | undefined> {
  const jar = await cookies();
  const token = jar.get(SESSION_COOKIE)?.value;
  jar.delete(SESSION_COOKIE);
  return token;
}

/**
 * Headers of what never changes under its tag. It is asked for anew each time: what a browser kept is shown only to who may see it now.
 */
export const tagged = (tag: string) => ({ etag: `"${tag}"`, 'cache-control': 'private, no-cache' });

/** The answer to a browser that has it already, or null (RFC 9110, section 13.1.2). */
export function unchanged(request: Request, tag: string): Response | null {
  const had = (request.headers.get('if-none-match') ?? '').split(',').map((t) => t.trim().replace(/^W\//, ''));
  return had.includes(`"${tag}"`) ? new Response(null, { status: 304, headers: tagged(tag) }) : null;
}

export const done = () => Response.json({ ok: true });
