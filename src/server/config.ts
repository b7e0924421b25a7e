/** Settings of the running server, from its environment. */
import { join, resolve } from 'node:path';

export interface Config {
  dataDir: string;
  dbUrl: string;
  /** Address of the demo's account, whose door is open; null: no demo. */
  demo: string | null;
}

export function config(): Config {
  const dbUrl = process.env.SCAPHOS_DB_URL;
  if (!dbUrl) throw new Error('SCAPHOS_DB_URL is not set. Start Scaphos with ./scaphos start or ./scaphos demo.');
  return {
    dataDir: resolve(/* turbopackIgnore: true */ process.env.SCAPHOS_DATA ?? '.data'),
    dbUrl,
    demo: process.env.SCAPHOS_DEMO || null,
  };
}

export const blobDir = () => join(config().dataDir, 'blobs');
export const tempDir = () => join(config().dataDir, 'tmp');
/** Outlives a restart: what was sent half goes on. */
export const uploadDir = () => join(config().dataDir, 'uploads');
export const cacheDir = () => join(config().dataDir, 'cache');
/** What searches found: written by the processes that search. */
export const solvedDir = () => join(cacheDir(), 'solved');

/** A number that an operator may set; what is none, or not above nothing, is as if it were not there. */
export const given = (name: string, usual: number): number => {
  const n = Number(process.env[name]);
  return Number.isFinite(n) && n > 0 ? n : usual;
};
