/**
 * `./scaphos bench foreign`: models nobody here made, read beside another reader, mended all at once, turned, and made light beside
 * recipes that were drawn. "read", "mend", "turns" or "search" alone by its name. SCAPHOS_DRAWS: recipes a model (200); SCAPHOS_MODELS: models searched (12).
 */
import { drawn } from '../../e2e/support/sweep';
import { outsideFiles, sizeOf } from './files';
import { mendAll } from './mend';
import { readRow } from './read';
import { trySearch } from './search';
import { tryTurns } from './turns';

const part = process.argv[3] ?? 'all';
const [draws, models] = [Number(process.env.SCAPHOS_DRAWS ?? 200), Number(process.env.SCAPHOS_MODELS ?? 12)];
const files = await outsideFiles();
const originals = files.filter((f) => f.from === f.path);
let bad = 0;

if (part === 'all' || part === 'read') {
  const codes = new Map<string, number>();
  let [read, right, seconds] = [0, 0, 0];
  const chosen = process.env.SCAPHOS_TENTH ? drawn(files) : files;
  for (const f of chosen) {
    const row = await readRow(f);
    seconds += row.seconds;
    if (!row.refused) read++;
    if (!row.refused && row.differs.length === 0) right++;
    else console.log(`${row.name}: ${row.refused ?? row.differs.join('; ')}`);
    for (const { code, level } of row.findings) codes.set(`${level} ${code}`, (codes.get(`${level} ${code}`) ?? 0) + 1);
  }
  bad += chosen.length - right;
  console.log(
    `${chosen.length} files, ${originals.length} of them as they came: ${read} read, ${right} as three's loader reads them, ${(seconds / chosen.length).toFixed(2)} s each.`,
  );
  console.log('Told of them:');
  for (const [code, n] of [...codes].sort((a, b) => b[1] - a[1])) console.log(`  ${String(n).padStart(4)} ${code}`);
}

if (part === 'all' || part === 'mend') {
  let [worse, invalid, restless] = [0, 0, 0];
  const chosen = process.env.SCAPHOS_TENTH ? drawn(originals) : originals;
  for (const f of chosen) {
    const m = await mendAll(f.path);
    const faulty = m.ran.some((c) => m.seen.includes(c));
    if (m.ssim < 0.995 && !faulty) worse++;
    invalid += m.errors;
    if (!m.still) restless++;
    if (m.ssim < 0.995 || m.errors > 0 || !m.still)
      console.log(
        `${f.name}: ${m.ssim.toFixed(4)} in ${m.view}${faulty ? ' (a fault that was seen was mended)' : ''}, ${m.errors} errors${m.still ? '' : ', changes again'}: ${m.ran.join(' ')}`,
      );
  }
  bad += worse + invalid + restless;
  console.log(
    `${chosen.length} models mended all at once: ${worse} look different without a fault that was seen, ${invalid} validator errors, ${restless} change when mended again.`,
  );
}

if ((part === 'all' || part === 'turns') && (await tryTurns())) bad++;

if (part === 'all' || part === 'search') {
  // one of each maker's, the heaviest first
  const byMaker = new Map<string, (typeof originals)[number]>();
  for (const f of [...originals].sort((a, b) => sizeOf(b.path) - sizeOf(a.path))) {
    const maker = f.name.split(/[-/]/)[0];
    if (!byMaker.has(maker)) byMaker.set(maker, f);
  }
  let over = 0;
  for (const f of [...byMaker.values()].slice(0, models)) over += await trySearch(f.name, f.path, draws, 7);
  bad += over;
  console.log(`${over} answers are more than 5 % above the best recipe that was drawn.`);
}
process.exitCode = bad > 0 ? 1 : 0;
