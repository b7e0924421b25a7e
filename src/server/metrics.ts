/** Numbers for whoever runs the server, in the text format of Prometheus: on this machine's own address alone. */
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Counter, collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import { database } from './db';
import { healthOf } from './health';
import { log } from './log';

/** Words of our addresses; whatever else stands in one is an id, and never a label of its own. */
const WORDS = new Set(
  'api assets bundle bundles copy cover demo drawn edits events glb health jobs packages pieces prepare recipes restore session setup uploads versions weight yards'.split(
    ' ',
  ),
);
/** `/api/pieces/01M…/edits` as `/api/pieces/:id/edits`. */
export const routeOf = (path: string): string =>
  path
    .split('/')
    .map((w) => (w === '' || WORDS.has(w) ? w : ':id'))
    .join('/');

const SECONDS = [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10, 30];

function make() {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'scaphos_' });
  const registers = [registry];
  const requests = new Counter({
    name: 'scaphos_http_requests_total',
    help: 'Answers, by method, route and status.',
    labelNames: ['method', 'route', 'status'],
    registers,
  });
  const seconds = new Histogram({
    name: 'scaphos_http_request_seconds',
    help: 'Time to an answer’s headers.',
    labelNames: ['route'],
    buckets: SECONDS,
    registers,
  });
  const jobs = new Gauge({ name: 'scaphos_jobs', help: 'Jobs of the queue, by state.', labelNames: ['state'], registers });
  const readers = new Gauge({ name: 'scaphos_readers', help: 'Files being read, by state.', labelNames: ['state'], registers });
  const free = new Gauge({ name: 'scaphos_free_bytes', help: 'Room left where the data lie.', registers });
  const up = new Gauge({ name: 'scaphos_database_up', help: 'Whether the database answers.', registers });
  return { registry, requests, seconds, jobs, readers, free, up };
}
// pages and routes are bundled apart: one count for all
const held = globalThis as { scaphosMetrics?: ReturnType<typeof make> };
const metrics = () => {
  held.scaphosMetrics ??= make();
  return held.scaphosMetrics;
};

export function countRequest(method: string, path: string, status: number, ms: number): void {
  const { requests, seconds } = metrics();
  const route = routeOf(path);
  requests.inc({ method, route, status });
  seconds.observe({ route }, ms / 1000);
}

async function scrape(): Promise<string> {
  const { registry, jobs, readers, free, up } = metrics();
  const health = await Promise.resolve()
    .then(() => healthOf(database()))
    .catch(() => null);
  up.set(health ? 1 : 0);
  if (health) {
    for (const [state, n] of Object.entries(health.jobs)) jobs.set({ state }, n);
    for (const [state, n] of Object.entries(health.readers)) readers.set({ state }, n);
    free.set(health.freeMb * 1e6);
  }
  return registry.metrics();
}

/** Listens on `port` of loopback; a port that is taken is said in the log, and the site goes on without. Resolves to the port it has. */
export function serveMetrics(port: number): Promise<number | null> {
  const server: Server = createServer((request, response) => {
    if (request.method !== 'GET' || request.url !== '/metrics') return void response.writeHead(404).end();
    scrape().then(
      (text) => response.writeHead(200, { 'content-type': metrics().registry.contentType }).end(text),
      (error: unknown) => {
        log.warn({ err: error }, 'metrics could not be gathered');
        response.writeHead(500).end();
      },
    );
  });
  // it holds up no end of the process
  server.unref();
  return new Promise((resolve) => {
    server.once('error', (error) => {
      log.warn({ err: error, port }, 'metrics are not served');
      resolve(null);
    });
    server.listen(port, '127.0.0.1', () => resolve((server.address() as AddressInfo).port));
  });
}
