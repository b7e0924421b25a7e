import pino from 'pino';

/** Structured log on standard output. No file contents, no passwords, no tokens. */
export const log = pino({ name: 'scaphos', level: process.env.SCAPHOS_LOG ?? 'info' });
