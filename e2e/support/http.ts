/** A signed-in browser as far as the routes can tell: cookie, origin, JSON. */
import { createAccount } from '@/server/accounts';
import { type Knex, openDatabase } from '@/server/db';
import { createYard } from '@/server/yards';

export const siteUrl = () => process.env.SCAPHOS_TEST_URL as string;

let db: Knex | null = null;
export function testDatabase(): Knex {
  db ??= openDatabase(process.env.SCAPHOS_DB_URL as string);
  return db;
}
export const closeTestDatabase = async () => {
  await db?.destroy();
  db = null;
};

export interface Answer {
  status: number;
  headers: Headers;
  // biome-ignore lint/suspicious/noExplicitAny: tests look into answers freely
  body: any;
}

export class Visitor {
  private cookie = '';
  yard = '';
  constructor(readonly email: string) {}

  async call(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer> {
    const raw = body instanceof FormData || body instanceof Uint8Array || body instanceof Blob;
    const response = await fetch(siteUrl() + path, {
      method,
      headers: {
        origin: siteUrl(),
        ...(this.cookie ? { cookie: this.cookie } : {}),
        ...(raw || body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      body: body === undefined ? undefined : raw ? (body as BodyInit) : JSON.stringify(body),
    });
    const set = response.headers.getSetCookie().find((c) => c.startsWith('scaphos_session='));
    if (set) this.cookie = set.split(';')[0];
    const type = response.headers.get('content-type') ?? '';
    return {
      status: response.status,
      headers: response.headers,
      body: type.includes('json') ? await response.json() : new Uint8Array(await response.arrayBuffer()),
    };
  }

  get = (path: string) => this.call('GET', path);
  post = (path: string, body: unknown = {}) => this.call('POST', path, body);

  async upload(piece: string, files: [string, Uint8Array][]): Promise<Answer> {
    const form = new FormData();
    for (const [name, bytes] of files) form.append('file', new Blob([bytes as Uint8Array<ArrayBuffer>]), name);
    return this.call('POST', `/api/pieces/${piece}/assets`, form);
  }

  async newPiece(name = 'Test piece'): Promise<string> {
    return (await this.post(`/api/yards/${this.yard}/pieces`, { name })).body.id;
  }
}

export const PASSWORD = 'a long enough password';
let serial = 0;

/** An account with a yard, signed in through the route. */
export async function signedIn(): Promise<Visitor> {
  const email = `visitor-${process.pid}-${serial++}@example.test`;
  const account = await createAccount(testDatabase(), { email, name: 'Visitor', password: PASSWORD });
  const visitor = new Visitor(email);
  visitor.yard = await createYard(testDatabase(), 'Test yard', account.id);
  await visitor.post('/api/session', { email, password: PASSWORD });
  return visitor;
}
