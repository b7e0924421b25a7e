/** Artists who save without end, as their browsers would: what was not answered is sent again, the same, until it is. */
import { boxGlb } from '@/core/intake/samples';
import { add, createGroup, createModelItem, type Edit, PIECE_SCHEMA, type Piece, remove } from '@/core/piece';
import { createAccount } from '@/server/accounts';
import type { Knex } from '@/server/db';
import { createYard } from '@/server/yards';

const PASSWORD = 'a long enough password';
/** Parts that are in a piece at once. */
const KEPT = 100;
/** A bound on a hang: nobody waits longer than this for one answer, nor goes on asking for one once nothing is killed any more. */
const HANG_MS = 240_000;
const sleep = (ms: number) => new Promise((r) => setTimeout(r, ms));

export class Artist {
  /** What went wrong, in words. */
  readonly faults: string[] = [];
  /** When each save was first sent and when it was answered, ms. */
  readonly times: [number, number][] = [];
  saves = 0;
  uploads = 0;
  piece = '';
  yard = '';
  private cookie = '';
  private files = 0;
  private stopped = false;
  private lost = false;
  private until = Number.POSITIVE_INFINITY;
  private underWay = new AbortController();

  private constructor(
    private readonly url: string,
    private readonly name: string,
    private readonly random: () => number,
  ) {}

  static async begin(url: string, db: Knex, name: string, random: () => number): Promise<Artist> {
    const email = `${name}@example.test`;
    const account = await createAccount(db, { email, name, password: PASSWORD });
    const artist = new Artist(url, name, random);
    artist.yard = await createYard(db, `Yard of ${name}`, account.id);
    const entered = await artist.ask('POST', '/api/session', { email, password: PASSWORD });
    artist.cookie = entered.headers
      .getSetCookie()
      .map((c) => c.split(';')[0])
      .join('; ');
    artist.piece = ((await (await artist.ask('POST', `/api/yards/${artist.yard}/pieces`, { name })).json()) as { id: string }).id;
    return artist;
  }

  ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> {
    const raw = body instanceof Uint8Array;
    return fetch(this.url + path, {
      method,
      headers: { origin: this.url, cookie: this.cookie, ...(raw ? {} : { 'content-type': 'application/json' }), ...headers },
      body: body === undefined ? undefined : raw ? (body as BodyInit) : JSON.stringify(body),
      signal: AbortSignal.any([this.underWay.signal, AbortSignal.timeout(HANG_MS)]),
    });
  }

  /** As a browser that is killed: the answer to what is under way is never heard. */
  cut(): void {
    this.underWay.abort();
    this.underWay = new AbortController();
  }
  /** No more is begun; what is under way comes to its end in time. */
  stop(): void {
    this.stopped = true;
    this.until = performance.now() + HANG_MS;
  }
  /** Where nobody is there any more. */
  giveUp(): void {
    this.lost = true;
    this.cut();
  }

  /**
   * Asks again until `good` makes something of an answer that is none of the server's faults.
   * @throws {Error} with the last answer, where none comes
   */
  private async answered<T>(send: () => Promise<Response>, good: (answer: Response) => Promise<T | null>): Promise<T> {
    let last = 'nothing';
    while (!this.lost && performance.now() < this.until) {
      try {
        const answer = await send();
        last = `${answer.url} ${answer.status}`;
        const made = answer.status < 500 ? await good(answer) : null;
        if (made !== null) return made;
        if (answer.status >= 500) last += ` ${(await answer.text()).slice(0, 200)}`;
      } catch (error) {
        // cut, or nobody there
        last = `${last}, then ${(error as Error).message}`.slice(-400);
      }
      await sleep(50 + 100 * this.random());
    }
    throw new Error(`${this.name} was not answered; last was ${last}`);
  }
  /** Until it is answered for good, in JSON: an answer that was cut is none. */
  private surely(send: () => Promise<Response>): Promise<{ status: number; body: unknown }> {
    return this.answered(send, async (answer) => {
      const body: unknown = await answer.json();
      return body === null ? null : { status: answer.status, body };
    });
  }
  private surelyRaw(send: () => Promise<Response>): Promise<Response> {
    return this.answered(send, async (answer) => answer);
  }

  private async save(edits: Edit[]): Promise<void> {
    const body = { saveId: `${this.name}-${this.saves}`, baseRevision: this.saves, schema: PIECE_SCHEMA, edits };
    const from = performance.now();
    const { status, body: answer } = await this.surely(() => this.ask('POST', `/api/pieces/${this.piece}/edits`, body));
    this.times.push([from, performance.now()]);
    const revision = (answer as { revision?: number } | null)?.revision;
    if (status !== 200 || revision !== this.saves + 1)
      this.faults.push(`${this.name}: save ${this.saves} was answered with ${status} ${JSON.stringify(answer).slice(0, 200)}`);
    this.saves++;
  }

  /** A part more; the oldest goes where there are many. */
  addPart(): Promise<void> {
    const n = this.saves;
    const old = n >= KEPT ? [remove('parts', `g${n - KEPT}`)] : [];
    this.names.push(`g${n}`);
    return this.save([add('parts', createGroup(`g${n}`, `Group ${n}`)), ...old]);
  }
  private readonly names: string[] = [];

  /** A file in two pieces, taken into stock. */
  async bringFile(): Promise<void> {
    const n = this.files++;
    const bytes = await boxGlb([0.01 + n * 1e-4, 0.01, 0.01 + this.name.length * 1e-5]);
    const tus = { 'tus-resumable': '1.0.0' };
    const half = bytes.length >> 1;
    while (performance.now() < this.until) {
      const created = await this.surelyRaw(() =>
        this.ask('POST', '/api/uploads', bytes.slice(0, half), {
          ...tus,
          'upload-length': String(bytes.length),
          'content-type': 'application/offset+octet-stream',
        }),
      );
      const id = (created.headers.get('location') ?? '').replace(/^.*\//, '');
      while (performance.now() < this.until) {
        const head = await this.surelyRaw(() => this.ask('HEAD', `/api/uploads/${id}`, undefined, tus));
        const offset = Number(head.headers.get('upload-offset') ?? Number.NaN);
        if (!(offset < bytes.length)) break;
        await this.surelyRaw(() =>
          this.ask('PATCH', `/api/uploads/${id}`, bytes.slice(offset), {
            ...tus,
            'upload-offset': String(offset),
            'content-type': 'application/offset+octet-stream',
          }),
        );
      }
      const { status, body } = await this.surely(() =>
        this.ask('POST', `/api/pieces/${this.piece}/assets`, { uploads: [{ id, name: `box ${n}.glb` }] }),
      );
      // taken, and the answer was lost: what is sent again is the same file
      if (status === 404) continue;
      const item = (body as { items?: { item: Record<string, unknown> }[] }).items?.[0]?.item;
      if (status !== 201 || !item) {
        this.faults.push(`${this.name}: file ${n} was answered with ${status} ${JSON.stringify(body).slice(0, 200)}`);
        return;
      }
      const { original, model, bytes: size } = item as { original: string; model: string; bytes: number };
      this.names.push(`f${n}`);
      await this.save([add('stock', createModelItem({ id: `f${n}`, name: `box ${n}.glb`, original, model, bytes: size }))]);
      this.uploads++;
      return;
    }
    throw new Error(`${this.name}: file ${n} was sent again and again, and never taken`);
  }
  /** Sends a file whole and asks for it to be taken; the answer, whatever it is. */
  async offer(name: string, bytes: Uint8Array): Promise<Response> {
    const sent = await this.ask('POST', '/api/uploads', bytes, {
      'tus-resumable': '1.0.0',
      'upload-length': String(bytes.length),
      'content-type': 'application/offset+octet-stream',
    });
    if (sent.status !== 201) return sent;
    const id = (sent.headers.get('location') ?? '').replace(/^.*\//, '');
    return this.ask('POST', `/api/pieces/${this.piece}/assets`, { uploads: [{ id, name }] });
  }
  /** @throws {Error} it was not taken */
  async take(name: string, bytes: Uint8Array): Promise<{ original: string; model: string; bytes: number }> {
    const answer = await this.offer(name, bytes);
    const said = (await answer.json()) as { items?: { item: { original: string; model: string; bytes: number } }[] };
    if (answer.status !== 201 || !said.items) throw new Error(`${name} was answered with ${answer.status} ${JSON.stringify(said)}`);
    return said.items[0].item;
  }

  /** Saves, and now and then a file, until it is stopped; what is under way is ended. */
  async work(everyMs: number, files = true): Promise<void> {
    // people do not press in step
    await sleep(everyMs * this.random());
    while (!this.stopped) {
      const from = performance.now();
      if (files && this.saves % 12 === 7 && this.files < 60) await this.bringFile();
      else await this.addPart();
      await sleep(Math.max(0, everyMs * (0.5 + this.random()) - (performance.now() - from)));
    }
  }

  /** What is there, held to what was acknowledged; anything else is a fault. */
  async check(): Promise<void> {
    const { revision, faults } = await this.checkAt(this.url);
    this.faults.push(...faults);
    if (revision !== this.saves) this.faults.push(`${this.name}: ${this.saves} saves were acknowledged, ${revision} are there`);
  }

  /** The revision that a server has of the piece, and what in it is not as it was after that many saves. */
  async checkAt(url: string): Promise<{ revision: number; faults: string[] }> {
    const ask = () => fetch(`${url}/api/pieces/${this.piece}`, { headers: { cookie: this.cookie } });
    const { revision, document } = (await this.surely(ask)).body as { revision: number; document: Piece };
    const made = this.names.slice(0, revision);
    const groups = made.filter((n) => n.startsWith('g')).map((n) => Number(n.slice(1)));
    const last = groups.filter((n) => !groups.some((m) => m - KEPT === n));
    const there = Object.keys(document.parts).filter((n) => n.startsWith('g'));
    const missing = last.filter((n) => !there.includes(`g${n}`));
    const faults: string[] = [];
    if (missing.length > 0 || there.length !== last.length)
      faults.push(`${this.name}: parts ${missing.join()} are missing, ${there.length} are there of ${last.length}`);
    if (Object.keys(document.stock).length !== made.length - groups.length) faults.push(`${this.name}: files are missing`);
    return { revision, faults };
  }
}
