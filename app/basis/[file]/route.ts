import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { notFound, openRoute } from '@/server';

/** The two files of three's Basis transcoder: its loader fetches them when a model wears KTX2. */
const FILES: Readonly<Record<string, string>> = { 'basis_transcoder.js': 'text/javascript', 'basis_transcoder.wasm': 'application/wasm' };

export const GET = openRoute<{ file: string }>(async ({ params }) => {
  const type = FILES[params.file];
  if (!type) throw notFound('file');
  const path = join(process.cwd(), 'node_modules', 'three', 'examples', 'jsm', 'libs', 'basis', params.file);
  return new Response(await readFile(path), { headers: { 'content-type': type, 'cache-control': 'public, max-age=86400' } });
});
