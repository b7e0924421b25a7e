import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test } from 'vitest';
import { countRequest, routeOf, serveMetrics } from './metrics';

test('ids are no labels, whatever they look like', () => {
  expect(routeOf('/api/pieces/01M8KE8MV5ZBABDSGQMJZESEF9/edits')).toBe('/api/pieces/:id/edits');
  expect(routeOf('/api/uploads')).toBe('/api/uploads');
  expect(routeOf(`/api/pieces/x/assets/${'a'.repeat(64)}/drawn`)).toBe('/api/pieces/:id/assets/:id/drawn');
  expect(routeOf('/api/pieces/anything/jobs/at-all')).toBe('/api/pieces/:id/jobs/:id');
});

test('what was answered is counted and timed; without a database that is told; other addresses are not there', async () => {
  countRequest('GET', '/api/yards', 200, 30);
  countRequest('GET', '/api/yards', 200, 400);
  countRequest('POST', '/api/pieces/x/edits', 409, 3);
  const port = await serveMetrics(0);
  const answer = await fetch(`http://127.0.0.1:${port}/metrics`);
  expect(answer.headers.get('content-type')).toContain('text/plain');
  const text = await answer.text();
  for (const line of [
    'scaphos_http_requests_total{method="GET",route="/api/yards",status="200"} 2',
    'scaphos_http_requests_total{method="POST",route="/api/pieces/:id/edits",status="409"} 1',
    'scaphos_http_request_seconds_bucket{le="0.02",route="/api/yards"} 0',
    'scaphos_http_request_seconds_bucket{le="0.05",route="/api/yards"} 1',
    'scaphos_http_request_seconds_bucket{le="0.5",route="/api/yards"} 2',
    'scaphos_database_up 0',
  ])
    expect(text.split('\n')).toContain(line);
  expect(text).toMatch(/^scaphos_process_resident_memory_bytes \d+$/m);
  expect((await fetch(`http://127.0.0.1:${port}/`)).status).toBe(404);
  expect((await fetch(`http://127.0.0.1:${port}/metrics`, { method: 'POST' })).status).toBe(404);
});

test('a port that is taken ends nothing', async () => {
  const other = createServer().listen(0, '127.0.0.1');
  await new Promise((r) => other.once('listening', r));
  expect(await serveMetrics((other.address() as AddressInfo).port)).toBeNull();
  other.close();
});
