/**
 * Faults put into the code, one at a time, which the unit tests must notice: `./scaphos test mutants [PATH …] [--seed N] [--count K]`.
 * K lines are drawn by the seed from the files under the paths; every fault that Stryker knows for them is tried against the tests
 * that reach it. Prints what survived, with its place, and the share that died.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { tryServer } from './mutants-server.mjs';

/** What is asked about a folder: the tests beside it and its nearest users. The first that a file lies in counts. */
const AREAS = [
  ['src/core/math', ['src/core/math']],
  ['src/core/model', ['src/core/model', 'src/core/prepare/transform']],
  ['src/core/form', ['src/core/form', 'src/stage/formview']],
  ['src/core/capture', ['src/core/capture', 'src/core/run']],
  ['src/core/parts', ['src/core/parts', 'src/core/piece', 'src/core/run']],
  [
    'src/core/piece',
    [
      'src/core/piece',
      'src/core/fit/acts',
      'src/ui/piece',
      'src/core/prepare/transform',
      'src/core/prepare/steps',
      'src/worker/node/media',
    ],
  ],
  ['src/core/fit', ['src/core/fit']],
  ['src/core/run', ['src/core/run', 'src/core/piece/tables']],
  ['src/core/deliver', ['src/core/deliver', 'demo/delivered']],
  ['src/core/intake/placing', ['src/core/intake/placing']],
  ['src/core/intake/media', ['src/core/intake/media', 'src/worker/node/media']],
  ['src/core/intake', ['src/core/intake/', 'src/core/prepare/fixes', 'src/core/prepare/textures']],
  ['src/core/prepare/measure', ['src/core/prepare/measure']],
  ['src/core/prepare/solve', ['src/core/prepare/solve']],
  ['src/core/prepare', ['src/core/prepare/']],
  ['src/stage', ['src/stage']],
  ['src/ui', ['src/ui']],
  ['src/worker', ['src/worker']],
];
/** Where a fault matters most. */
const USUAL = ['piece', 'parts', 'run', 'model', 'fit', 'deliver', 'intake/placing', 'intake/check', 'prepare/measure', 'form']
  .map((p) => `src/core/${p}`)
  .concat('src/server');
/** Searches, minutes long: asked about their own folder alone. */
const SLOW = ['src/core/prepare/keeps', 'src/core/prepare/outside', 'src/core/prepare/solve'];

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { seed: { type: 'string', default: process.env.SCAPHOS_SEED ?? '1' }, count: { type: 'string', default: '40' } },
});
const paths = positionals.length > 0 ? positionals : USUAL;
for (const p of paths)
  if (!existsSync(p)) {
    console.error(`scaphos: there is no ${p}. Name files or folders below the project.`);
    process.exit(64);
  }

const home = join('dist', 'mutants');
if (!existsSync(join(home, 'node_modules', '@stryker-mutator', 'vitest-runner'))) {
  mkdirSync(home, { recursive: true });
  // beside the project, whose own Vitest it runs
  const packages = ['@stryker-mutator/core@9.6.1', '@stryker-mutator/vitest-runner@9.6.1'];
  const flags = ['--no-save', '--no-audit', '--no-fund', '--silent', '--legacy-peer-deps'];
  execFileSync('npm', ['install', '--prefix', home, ...flags, ...packages], { stdio: 'inherit' });
}

const files = execFileSync('git', ['ls-files', '--', ...paths], { encoding: 'utf8' })
  .split('\n')
  .filter((f) => /\.tsx?$/.test(f) && !/\.test\.|samples|arbitrary/.test(f) && statSync(f).isFile());
/** Lines that do something: no words, no imports, no types alone. */
const lines = files.flatMap((file) => {
  let words = false;
  return readFileSync(file, 'utf8')
    .split('\n')
    .flatMap((text, i) => {
      const t = text.trim();
      if (t.startsWith('/*')) words = true;
      const skip = words || t.length < 8 || /^(\/\/|\*|import |export (type|interface|\*|\{)|interface |type |\}|readonly )/.test(t);
      if (t.endsWith('*/')) words = false;
      return skip ? [] : [`${file}:${i + 1}-${i + 1}`];
    });
});
// mulberry32 (Tommy Ettinger, public domain): the same seed draws the same lines
let state = Number(values.seed) >>> 0;
const random = () => {
  state = (state + 0x6d2b79f5) >>> 0;
  let t = Math.imul(state ^ (state >>> 15), 1 | state);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};
const drawn = [];
while (drawn.length < Number(values.count) && lines.length > 0) drawn.push(...lines.splice(Math.floor(random() * lines.length), 1));

const at = (name) => join(home, name);
/** Stryker counts tests that failed; where their preparation fails they are only left out. Of that, tests are made that fail. */
const PREPARED = `
import { beforeAll as $prepare, beforeEach as $before } from 'vitest';
const $prepared = (work, ms) => {
  let failed = null;
  $prepare(async () => {
    try {
      return await work();
    } catch (error) {
      failed = { error };
    }
  }, ms);
  $before(() => {
    if (failed) throw failed.error;
  });
};
`;
let [died, lived] = [0, 0];

/** Tries every fault of some lines against the tests of their area. */
function tryArea(area, tests, mutate) {
  const include = tests.flatMap((t) => [`${t}*.test.ts`, `${t}/**/*.test.ts`].map((g) => g.replace('//', '/')));
  const exclude = SLOW.filter((p) => !area.startsWith(p)).flatMap((p) => [`${p}*`, `${p}/**`]);
  writeFileSync(
    at('vitest.config.ts'),
    `import { defineConfig } from 'vitest/config';
export default defineConfig({
  resolve: { alias: { '@': process.cwd() + '/src' } },
  plugins: [
    {
      name: 'preparations',
      enforce: 'pre',
      transform: (code, id) =>
        /\\.test\\.ts$/.test(id) ? \`\${${JSON.stringify(PREPARED)}}\${code.replace(/\\bbeforeAll\\(/g, '$prepared(')}\` : undefined,
    },
  ],
  test: { include: ${JSON.stringify(include)}, exclude: ${JSON.stringify(['**/node_modules/**', ...exclude])}, testTimeout: 60_000, hookTimeout: 60_000 },
});\n`,
  );
  writeFileSync(
    at('stryker.json'),
    JSON.stringify({
      plugins: [join(process.cwd(), home, 'node_modules/@stryker-mutator/vitest-runner/dist/src/index.js')],
      testRunner: 'vitest',
      vitest: { configFile: at('vitest.config.ts'), related: true },
      // its reader of the compiler's settings does not know TypeScript 7
      tsconfigFile: 'no-such.json',
      coverageAnalysis: 'perTest',
      reporters: ['json'],
      jsonReporter: { fileName: at('report.json') },
      concurrency: 2,
      timeoutMS: 60_000,
      dryRunTimeoutMinutes: 20,
      tempDirName: at('tmp'),
      ignorePatterns: ['.next', 'dist/cli', 'dist/worker', 'dist/chunks', 'dist/rivals', '.data*', 'docs', 'test-results'],
      mutator: { excludedMutations: ['StringLiteral', 'Regex'] },
      mutate,
    }),
  );
  rmSync(at('report.json'), { force: true });
  const run = spawnSync(process.execPath, [at('node_modules/@stryker-mutator/core/bin/stryker.js'), 'run', at('stryker.json')], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  if (!existsSync(at('report.json'))) {
    console.error(`${run.stdout}\n${run.stderr}`);
    process.exit(70);
  }
  const report = JSON.parse(readFileSync(at('report.json'), 'utf8'));
  const before = [died, lived];
  for (const [file, { mutants, source }] of Object.entries(report.files)) {
    const text = source.split('\n');
    for (const m of mutants) {
      if (m.status === 'Killed' || m.status === 'Timeout') died++;
      if (m.status !== 'Survived' && m.status !== 'NoCoverage') continue;
      lived++;
      const { start, end } = m.location;
      const line = text[start.line - 1];
      const was = start.line === end.line ? line.slice(start.column - 1, end.column - 1) : `${line.slice(start.column - 1)} …`;
      const now = (m.replacement ?? '').replace(/\s+/g, ' ');
      console.log(`lives: ${file}:${start.line}:${start.column} ${was} ⇒ ${now}${m.status === 'NoCoverage' ? ' (no test comes by)' : ''}`);
    }
  }
  const [d, l] = [died - before[0], lived - before[1]];
  if (d + l > 0) console.log(`${area}: ${d} of ${d + l} died`);
}

console.log(`seed ${values.seed}: ${drawn.length} lines of ${files.length} files`);
const areaOf = (line) => AREAS.find(([p]) => line.startsWith(`${p}/`));
const inServer = drawn.filter((l) => l.startsWith('src/server/'));
if (inServer.length > 0) {
  [died, lived] = await tryServer(home, inServer);
  console.log(`src/server: ${died} of ${died + lived} died`);
}
for (const [area, tests] of AREAS) {
  const mutate = drawn.filter((l) => areaOf(l)?.[0] === area);
  if (mutate.length > 0) tryArea(area, tests, mutate);
}
console.log(`${died} of ${died + lived} died (${died + lived > 0 ? Math.round((100 * died) / (died + lived)) : 100} %)`);
process.exit(died >= 0.8 * (died + lived) ? 0 : 1);
