/**
 * Faults in the server, which database and route tests must notice. The server runs in a process of its own, out of Stryker's reach:
 * all faults are put into a copy of the project at once, each behind a switch, and that is built once. Every test file is run once to
 * learn which faults it comes by; then each fault is switched on for the files that do, the quickest first.
 */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';

/** Unit tests beside the server's code, and those that ask a running one. */
const TESTS = [
  ['unit', ['src/server', 'src/api']],
  ['server', ['e2e/server']],
];
/** In place of Stryker's own words: a fault that was come by is told to a file. */
const SEEN = `
  var ns = globalThis.__scaphosSeen || (globalThis.__scaphosSeen = new Set());
  var path = process.env.SCAPHOS_MUTANTS_SEEN;
  if (path) for (var i = 0; i < arguments.length; i++) if (!ns.has(arguments[i])) {
    ns.add(arguments[i]);
    process.getBuiltinModule('node:fs').appendFileSync(path, arguments[i] + '\\n');
  }`;

/**
 * @param home where Stryker is installed
 * @param mutate places as Stryker takes them, `file:from-to`
 * @returns [died, lived]; survivors are printed
 */
export async function tryServer(home, mutate) {
  const root = resolve(home, 'site');
  rmSync(root, { recursive: true, force: true });
  mkdirSync(root, { recursive: true });
  const listed = spawnSync('git', ['ls-files', '-z'], { encoding: 'utf8' })
    .stdout.split('\0')
    .filter((f) => f && existsSync(f));
  spawnSync('tar', ['-cf', join(root, 'copy.tar'), '--null', '-T', '-'], { input: listed.join('\0') });
  spawnSync('tar', ['-xf', 'copy.tar'], { cwd: root });
  // names alone: the builder does not follow a link out of its folder
  spawnSync('cp', ['-al', 'node_modules', join(root, 'node_modules')]);

  const stryker = pathToFileURL(resolve(home, 'node_modules/@stryker-mutator/instrumenter/dist/src')).href;
  const { Instrumenter } = await import(`${stryker}/instrumenter.js`);
  const quiet = () => undefined;
  const logger = { debug: quiet, info: quiet, warn: quiet, error: console.error, isDebugEnabled: () => false };
  const byFile = new Map();
  for (const place of mutate) {
    const [, file, from, to] = /^(.*):(\d+)-(\d+)$/.exec(place);
    const lines = readFileSync(file, 'utf8').split('\n');
    const range = { start: { line: Number(from) - 1, column: 0 }, end: { line: Number(to) - 1, column: lines[to - 1].length } };
    byFile.set(file, [...(byFile.get(file) ?? []), range]);
  }
  const input = [...byFile].map(([name, ranges]) => ({ name: join(root, name), mutate: ranges, content: readFileSync(name, 'utf8') }));
  const options = { ignorers: [], plugins: null, excludedMutations: ['StringLiteral', 'Regex'] };
  const { files, mutants: all } = await new Instrumenter(logger).instrument(input, options);
  // words alone are left as they are
  const mutants = all.filter((m) => m.status === undefined);
  for (const f of files) {
    const told = f.content.replace(/(function stryCov_9fa48\(\) \{)[\s\S]*?\n\}\n(?=function stryMutAct)/, `$1${SEEN}\n}\n`);
    if (told === f.content && f.content.includes('function stryCov')) throw new Error(`${f.name}: Stryker's words have changed`);
    writeFileSync(f.name, told);
  }

  const env = { ...process.env };
  delete env.SCAPHOS_TEST_URL;
  const vitest = (project, path, more) =>
    spawnSync('node_modules/.bin/vitest', ['run', '--project', project, '--reporter=dot', ...(more.bail ? ['--bail', '1'] : []), path], {
      cwd: root,
      env: { ...env, ...more.env },
      encoding: 'utf8',
      maxBuffer: 1 << 28,
      timeout: 900_000,
    });
  const built = spawnSync('./scaphos', ['build'], { cwd: root, env, encoding: 'utf8', maxBuffer: 1 << 28 });
  if (built.status !== 0) throw new Error(`a project with faults could not be built:\n${built.stdout}${built.stderr}`);

  // what comes by where, and how long it takes
  const tests = [];
  for (const [project, paths] of TESTS)
    for (const path of listed.filter((f) => paths.some((p) => f.startsWith(`${p}/`)) && f.endsWith('.test.ts'))) {
      const seen = join(root, 'seen');
      rmSync(seen, { force: true });
      const from = Date.now();
      const { status, stdout, stderr } = vitest(project, path, { env: { SCAPHOS_MUTANTS_SEEN: seen } });
      if (status !== 0) throw new Error(`${path} fails without a fault:\n${stdout}${stderr}`);
      const ids = existsSync(seen) ? readFileSync(seen, 'utf8').trim().split('\n') : [];
      tests.push({ project, path, ms: Date.now() - from, ids: new Set(ids) });
    }
  tests.sort((a, b) => a.ms - b.ms);

  let [died, lived] = [0, 0];
  for (const m of mutants) {
    const file = m.fileName.slice(root.length + 1);
    const reached = tests.filter((t) => t.ids.has(m.id));
    const found = reached.find((t) => vitest(t.project, t.path, { bail: true, env: { __STRYKER_ACTIVE_MUTANT__: m.id } }).status !== 0);
    if (found) {
      died++;
      continue;
    }
    lived++;
    const { start, end } = m.location;
    const text = readFileSync(file, 'utf8').split('\n')[start.line];
    const was = start.line === end.line ? text.slice(start.column, end.column) : `${text.slice(start.column)} …`;
    const now = m.replacement.replace(/\s+/g, ' ');
    console.log(`lives: ${file}:${start.line + 1}:${start.column + 1} ${was} ⇒ ${now}${reached.length ? '' : ' (no test comes by)'}`);
  }
  return [died, lived];
}
