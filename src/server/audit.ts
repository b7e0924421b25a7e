/** Who did what, when and from where: rows are added, and the database refuses to change or remove one. */
import { subscribe } from 'node:diagnostics_channel';
import type { IncomingMessage } from 'node:http';
import type { Knex } from './db';

/** Everything that is written down, and its words for people. */
export const AUDITED = {
  'account/made': 'account made',
  'account/password': 'another password',
  'session/open': 'signed in',
  'session/refused': 'refused to sign in',
  'session/closed': 'signed out',
  'session/ended': 'sessions ended',
  'export/glb': 'GLB handed out',
  'export/bundle': 'bundle handed out',
  'piece/deleted': 'piece deleted',
  'piece/restored': 'piece restored',
  'recipe/deleted': 'recipe taken out',
  'finish/deleted': 'finish taken out',
} as const;
export type Audited = keyof typeof AUDITED;

export interface AuditEntry {
  what: Audited;
  account?: string | null;
  yard?: string | null;
  /** What it was done to, in words that still say something when that is gone. */
  subject?: string | null;
  /** Where it came from: an address, or how else. */
  from?: string | null;
}

const cut = (text: string | null | undefined, most: number) => (text ? [...text].slice(0, most).join('') : null);

export async function audit(db: Knex, { what, account = null, yard = null, subject, from }: AuditEntry): Promise<void> {
  await db('audit').insert({
    at: new Date(),
    what,
    account_id: account,
    yard_id: yard,
    subject: cut(subject, 200),
    came_from: cut(from, 64),
  });
}

const FORWARDED = 'x-forwarded-for';

/**
 * What a caller says of its own address is not believed: it is replaced by that of its connection, before anybody reads it. Behind a
 * proxy of ours, which adds what it sees at the end, that is what counts. Call once, when a server starts.
 */
export function noteCallers(): void {
  if (process.env.SCAPHOS_PUBLIC) return;
  subscribe('http.server.request.start', (message) => {
    const { request } = message as { request: IncomingMessage };
    request.headers[FORWARDED] = request.socket.remoteAddress ?? '';
  });
}

/** The address a request came from. */
export const callerOf = (request: Request): string | null => {
  const last = request.headers.get(FORWARDED)?.split(',').at(-1)?.trim();
  return last ? last.replace(/^::ffff:/, '') : null;
};

export interface AuditRow {
  at: string;
  what: Audited;
  /** Address of the account, or its id where it is gone; null: nobody known. */
  account: string | null;
  yard: string | null;
  subject: string | null;
  from: string | null;
}

/** Oldest first. */
export async function readAudit(db: Knex, since: Date): Promise<AuditRow[]> {
  const rows: (Omit<AuditRow, 'at'> & { at: Date; email: string | null })[] = await db('audit')
    .leftJoin('accounts', 'accounts.id', 'audit.account_id')
    .where('audit.at', '>=', since)
    .orderBy('audit.id')
    .select('audit.at', 'audit.what', 'accounts.email', 'audit.subject', {
      account: 'audit.account_id',
      yard: 'audit.yard_id',
      from: 'audit.came_from',
    });
  return rows.map(({ email, at, account, ...r }) => ({ at: at.toISOString(), ...r, account: email ?? account }));
}
