/**
 * `./scaphos bench run`: a step of the run, edits and what they touch, compiling, as times and as multiples of a yardstick taken in
 * the same run; and whether the heap grows over ten thousand steps. Exit 1 where a bound is missed.
 */
import { simulateCapture } from '@/core/capture';
import { LIBRARY, libraryFinish } from '@/core/finish';
import { LOOK_ABOUT, poseAtTime, SKELETONS } from '@/core/form';
import {
  add,
  applyEdit,
  batch,
  changePart,
  createGroup,
  createModelItem,
  createModelPart,
  createPiece,
  createSolid,
  entitiesOf,
  followAll,
  onAnchor,
  onPart,
  type Piece,
  type SingleEdit,
  settings,
} from '@/core/piece';
import { advance, compile, settle, stageOf, start } from '@/core/run';

const gc = (globalThis as { gc?: () => void }).gc ?? (() => undefined);

/** Median over rounds of the mean time of one call, ms. */
function msOf(work: (i: number) => unknown, calls: number, rounds = 9): number {
  const times: number[] = [];
  for (let r = 0; r < rounds; r++) {
    const from = performance.now();
    for (let i = 0; i < calls; i++) work(r * calls + i);
    times.push((performance.now() - from) / calls);
  }
  return times.sort((a, b) => a - b)[rounds >> 1];
}

function yardstick(): number {
  let x = 0;
  for (let i = 0; i < 5_000_000; i++) x += Math.sqrt(i) * 1.0000001;
  return x;
}
for (let i = 0; i < 3; i++) yardstick();
const unit = msOf(yardstick, 1);

const BOX = { form: 'box' as const, sizeMm: [20, 20, 20] as [number, number, number], roundMm: 0, wallMm: 8, open: [] };
const trail = { placeHalfLifeMs: 150, turnHalfLifeMs: 150, sizeHalfLifeMs: 150, deadZoneM: 0 };

/** 100 parts in 40 groups, of which 20 lag: groups hang in groups, ten deep at most. */
function busyPiece(): Piece {
  const edits: SingleEdit[] = [];
  for (let g = 0; g < 40; g++) {
    const hang = g % 10 === 0 ? onAnchor((['head', 'neck', 'shoulders', 'head'] as const)[g / 10]) : onPart(`g${g - 1}`);
    edits.push(add('parts', { ...createGroup(`g${g}`, `G${g}`, hang), follow: { ...followAll(), trail: g % 4 === 0 ? trail : null } }));
  }
  for (let p = 0; p < 60; p++) {
    const part = createSolid(`p${p}`, `P${p}`, BOX, onPart(`g${p % 40}`));
    edits.push(add('parts', { ...part, follow: { ...followAll(), trail: p < 10 ? trail : null } }));
  }
  return applyEdit(createPiece('Busy'), batch(edits));
}

/** The most a piece may hold: 500 parts, 500 stock files. */
function fullPiece(): Piece {
  const sha = (n: number) => n.toString(16).padStart(64, '0');
  const edits: SingleEdit[] = [];
  for (let i = 0; i < 500; i++)
    edits.push(add('stock', createModelItem({ id: `s${i}`, name: `${i}.glb`, original: sha(i), model: sha(i + 1000), bytes: 1 })));
  for (let i = 0; i < 499; i++) edits.push(add('parts', createModelPart(`p${i}`, `s${i}`, `Part ${i}`)));
  return applyEdit(createPiece('Full'), batch(edits));
}

/** A look as rich as one gets: 100 parts in 12 layers, 40 finishes, three colourways of which one is shown. */
function dressedPiece(): Piece {
  const edits: SingleEdit[] = [];
  for (let l = 0; l < 10; l++)
    edits.push(
      l % 3 === 2
        ? add('layers', {
            id: `l${l}`,
            name: null,
            visible: true,
            kind: 'matte',
            matte: { name: 'person', invert: false, growPx: l, featherPx: 2 },
          })
        : add('layers', { id: `l${l}`, name: null, visible: true, kind: 'parts', sort: l % 2 === 0 ? 'depth' : 'order' }),
    );
  for (let f = 0; f < 40; f++) edits.push(add('finishes', libraryFinish(LIBRARY[f % LIBRARY.length], `f${f}`)));
  for (let p = 0; p < 99; p++)
    edits.push(
      add('parts', {
        ...createSolid(`p${p}`, `P${p}`, BOX, p % 10 === 0 ? onAnchor('head') : onPart(`p${p - 1}`)),
        layer: p % 3 === 0 ? 'main' : `l${[0, 1, 3, 4, 6, 7, 9][p % 7]}`,
        wears: { '*': `f${p % 40}` },
      }),
    );
  for (let c = 0; c < 3; c++)
    edits.push(
      add('colourways', {
        id: `c${c}`,
        name: `C${c}`,
        looks: Array.from({ length: 99 }, (_, p) => ({ part: `p${p}`, material: '*', finish: `f${(p + c + 1) % 40}` })),
      }),
    );
  return applyEdit(createPiece('Dressed'), batch([...edits, settings({ colourway: 'c1' })]));
}

const rows: { what: string; ms: number; least: number | null }[] = [];
const time = (what: string, ms: number, least: number | null = null) => rows.push({ what, ms, least });

const busy = compile(busyPiece(), { models: {} });
const bones = SKELETONS.M;
// the captures are made before: what is measured is the run
const captures = Array.from({ length: 1200 }, (_, i) => simulateCapture(poseAtTime(LOOK_ABOUT, i / 120), bones, i / 120));
const captureAt = (t: number) => captures[Math.round(t * 120) % captures.length];
const memory = start(busy);
let step = 0;
const advanceOne = () => advance(busy, memory, captureAt, ++step / 120);
for (let i = 0; i < 2_000; i++) advanceOne();
time('a step of the run: 100 parts, 40 groups, 20 trails', msOf(advanceOne, 500), 0.5);
gc();
const before = process.memoryUsage().heapUsed;
for (let i = 0; i < 10_000; i++) advanceOne();
gc();
const grown = (process.memoryUsage().heapUsed - before) / 1e6;
time(
  'what is on stage, of the same',
  msOf((i) => stageOf(busy, memory, captures[i % 1200]), 50),
);

const dressed = compile(dressedPiece(), { models: {} });
const still = start(dressed);
const dressedAt = (fromS: number) => {
  const late = Array.from({ length: 120 }, (_, i) => simulateCapture(poseAtTime(LOOK_ABOUT, fromS + i / 120), bones, fromS + i / 120));
  for (let i = 0; i < 500; i++) stageOf(dressed, still, late[i % 120]);
  return msOf((i) => stageOf(dressed, still, late[i % 120]), 100);
};
const early = dressedAt(0);
time('what is on stage: 100 parts, 40 finishes, 12 layers', early, 1);
const late = dressedAt(3600);
time('the same an hour later', late, early * 1.5);
const other = applyEdit(dressed.piece, settings({ colourway: 'c2' }));
time(
  'compile after another colourway is shown',
  msOf(() => compile(other, { models: {} }, dressed), 20),
);

const full = fullPiece();
const move = (i: number) => changePart(`p${i % 499}`, { offset: { positionM: [i / 1e6, 0, 0], turnRad: [0, 0, 0], size: [1, 1, 1] } });
for (let i = 0; i < 500; i++) applyEdit(full, move(i));
time(
  'applyEdit, 500 parts and 500 stock files',
  msOf((i) => applyEdit(full, move(i)), 500),
  0.1,
);
time(
  'entitiesOf',
  msOf((i) => entitiesOf(move(i)), 2_000),
  0.02,
);
time(
  'compile, 500 parts',
  msOf(() => compile(full, { models: {} }), 5),
);
const compiled = compile(full, { models: {} });
const moved = applyEdit(full, move(7));
time(
  'compile after one row changed',
  msOf(() => compile(moved, { models: {} }, compiled), 10),
);
time(
  'stage of 500 parts at rest',
  msOf(() => stageOf(compiled, settle(compiled, captures[0]), captures[0]), 5),
);

let missed = 0;
process.stdout.write(`yardstick ${unit.toFixed(2)} ms\n`);
for (const { what, ms, least } of rows) {
  const over = least !== null && ms > least;
  if (over) missed++;
  process.stdout.write(
    `${what}: ${ms.toFixed(4)} ms, ${(ms / unit).toFixed(4)} × yardstick${least === null ? '' : over ? `, over its ${least} ms` : `, under its ${least} ms`}\n`,
  );
}
process.stdout.write(`heap after 10 000 steps: ${grown.toFixed(3)} MB more${grown > 1 ? ', it grows' : ''}\n`);
if (grown > 1) missed++;
process.exitCode = missed > 0 ? 1 : 0;
