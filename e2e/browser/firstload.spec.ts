/** What each page fetches of JavaScript before it can be pressed, as the build says it: gzipped, with the framework. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { expect, test } from '@playwright/test';

const BUILT = fileURLToPath(new URL('../../.next', import.meta.url));
const kB = (file: string) => gzipSync(readFileSync(join(BUILT, file))).length / 1000;

/** Files of a page that are not asked for by `import()`. */
function filesOf(page: string): string[] {
  const text = readFileSync(join(BUILT, 'server/app', `${page}/page_client-reference-manifest.js`), 'utf8');
  const told = JSON.parse(text.slice(text.indexOf('] = ') + 4).replace(/;\s*$/, '')) as {
    clientModules: Record<string, { chunks: string[] }>;
  };
  const chunks = Object.values(told.clientModules).flatMap((m) => m.chunks);
  return chunks.map((c) => decodeURIComponent(c).replace(/^\/_next\//, '')).filter((c) => c.endsWith('.js'));
}

for (const [page, most] of [
  ['sign-in', 150],
  ['yard/[yard]', 220],
  ...['stock', 'prepare', 'rig', 'fit', 'deliver', '[step]'].map((step) => [`piece/[piece]/${step}`, 350] as const),
] as const)
  test(`${page}: at most ${most} kB`, () => {
    const { rootMainFiles } = JSON.parse(readFileSync(join(BUILT, 'build-manifest.json'), 'utf8')) as { rootMainFiles: string[] };
    const files = new Set([...rootMainFiles, ...filesOf(page)].filter((f) => existsSync(join(BUILT, f))));
    expect(files.size).toBeGreaterThan(rootMainFiles.length);
    const sum = [...files].reduce((all, f) => all + kB(f), 0);
    // the framework alone is over 100 kB: less would mean that files were not found
    expect(sum).toBeGreaterThan(120);
    expect(sum).toBeLessThanOrEqual(most);
  });
