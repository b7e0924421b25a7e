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
  private readonly cookies = new Map<string, string>();
  yard = '';
  constructor(readonly email: string) {}

  async call(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer> {
    const raw = body instanceof FormData || body instanceof Uint8Array || body instanceof Blob;
    const response = await fetch(siteUrl() + path, {
      method,
      headers: {
        origin: siteUrl(),
        ...(this.cookies.size > 0 ? { cookie: this.cookie() } : {}),
        ...(raw || body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      body: body === undefined ? undefined : raw ? (body as BodyInit) : JSON.stringify(body),
    });
    for (const set of response.headers.getSetCookie()) {
      const [, name, value] = /^([^=]+)=([^;]*)/.exec(set) ?? [];
      if (value) this.cookies.set(name, value);
      else this.cookies.delete(name);
    }
    const type = response.headers.get('content-type') ?? '';
    return {
      status: response.status,
      headers: response.headers,
      body: type.includes('json') && method !== 'HEAD' ? await response.json() : new Uint8Array(await response.arrayBuffer()),
    };
  }

  private cookie = () => [...this.cookies].map(([name, value]) => `${name}=${value}`).join('; ');

  /** What a request of one's own must carry. */
  headers = (): Record<string, string> => ({ origin: siteUrl(), cookie: this.cookie() });

  get = (path: string) => this.call('GET', path);
  post = (path: string, body: unknown = {}) => this.call('POST', path, body);

  /** One request of the upload protocol (tus 1.0). */
  tus(method: string, path: string, headers: Record<string, string> = {}, body?: Uint8Array): Promise<Answer> {
    const type: Record<string, string> = body ? { 'content-type': 'application/offset+octet-stream' } : {};
    return this.call(method, path, body, { 'tus-resumable': '1.0.0', ...type, ...headers });
  }

  /** A whole file in one request; gives the upload's address. */
  async send(bytes: Uint8Array): Promise<string> {
    const answer = await this.tus('POST', '/api/uploads', { 'upload-length': String(bytes.length) }, bytes);
    if (answer.status !== 201) throw new Error(`upload refused: ${answer.status} ${JSON.stringify(answer.body)}`);
    return answer.headers.get('location') as string;
  }

  async upload(piece: string, files: [string, Uint8Array][]): Promise<Answer> {
    const uploads = [];
    for (const [name, bytes] of files) uploads.push({ id: (await this.send(bytes)).replace(/^.*\//, ''), name: name || 'file' });
    return this.post(`/api/pieces/${piece}/assets`, { uploads });
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
