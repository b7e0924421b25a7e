/** One call of the command line: its words are read, one command is loaded and run, failures become plain sentences. */
import { spawn } from 'node:child_process';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { PROFILES } from '@/core/deliver';
import { FORM_SIZES, TAKES } from '@/core/form';
import { Kind } from '@/core/intake';
import { parseBytes } from '@/core/math';
import type { ProfileId } from '@/core/piece';
import { NO_LIMITS } from '@/core/prepare';
import { HUMANOID_DETAILS } from '@/core/words/humanoid';
import { REST_STANCE_NAMES } from '@/core/words/stances';
import { rootDir } from './data';
import { CliFailure, say } from './failure';
import type { FitOptions } from './fit';
import type { InspectOptions } from './inspect';
import type { PrepareOptions } from './prepare';
import type { RigOptions } from './rig';
import type { RunCommandOptions } from './run';

// a command is loaded when it is called: none waits for the database's driver that does not ask it
const SCHEMAS: Record<string, () => Promise<unknown>> = {
  inspect: async () => (await import('./inspect')).inspectSchema(),
  prepare: async () => (await import('./prepare')).prepareSchema(),
  recipe: async () => (await import('./prepare')).recipeSchema(),
  rig: async () => (await import('./rig')).rigSchema(),
  fit: async () => (await import('./fit')).fitSchema(),
  piece: async () => (await import('./piece')).pieceSchema(),
  extras: async () => (await import('./piece')).extrasSchema(),
  edits: async () => (await import('./piece')).editsSchema(),
  check: async () => (await import('./piece')).checkSchema(),
  capture: async () => (await import('./run')).captureSchema(),
  run: async () => (await import('./run')).runSchema(),
};

const USAGE = `Use: ./scaphos COMMAND

  demo [--port N] [--host H] [--fresh]    start with the demo data; --fresh starts over
  start [--port N] [--host H]             start without demo data
  account add --email A [--name N] [--yard Y] [--password P]   (or SCAPHOS_PASSWORD)
  account list                            who has an account, and how many sessions are open
  account password --email A [--password P]   another password; ends every session
  session end --email A                   signs an account out everywhere; all of these also beside a running server
  backup FOLDER                           a copy of everything, also while artists save; again: what is new
  restore FOLDER                          a data folder out of a copy; the folder must be empty
  audit [--since 2026-01-31] [--json]     who did what, when and from where; the oldest first
  verify                                  whether every file and every revision is there; exit 0 all, 1 not
  inspect FILE… [--json] [--as KIND] [--fix all --out PATH]
                                          what Stock says of a file; exit 0 read, 1 with a blocker, 2 not readable.
                                          KIND: ${Kind.options.join(', ')}.
                                          --fix all writes the mended file to PATH, a folder for several files
  prepare FILE… (--profile NAME | --max-bytes 1MB --max-triangles N --max-texture N --max-bones N)
          [--recipe FILE] [--as KIND] --out PATH [--json]
                                          makes models light with the least visible error; exit 0 limits met, 1 not met
                                          (the nearest is written), 2 not readable. NAME: ${Object.keys(PROFILES).join(', ')}
  rig FILE [--chains | --chain "x,y,z:x,y,z" [--bones N] … | --figure [--detail 17|22|52] [--joints JOINTS.json]
           | --garment [--form S|M|L] [--detail 17|22|52]] [--rest T|A|half]
           [--motion NAME|FILE[:SPEED]] … [--weights auto|heat|voxel] --out OUT.glb [--json]
                                          raises bones and weights: a chain in every limb, or between presses in the
                                          file's metres, which hangs from the bone there where FILE has some; a figure's joints that are not right are given in JOINTS;
                                          a garment gets those of the body it lies on, and its weights;
                                          --rest holds a figure's arms level, out or half down at rest;
                                          motions of our own, or of a BVH, FBX or GLB, on a figure or on bones that FILE has;
                                          exit 0 rigged, 1 nothing is long enough or joints are to be looked at, 2 not to be rigged
  fit FILE --as KIND [--form S|M|L|MEASURES.json] [--cast a,b,c] [--gap 0.5mm] [--keep-size]
      [--sheet OUT.csv|.pdf|.png] [--out PIECE.zip] [--json]
                                          brings a thing onto a head by what it is: size, turn and place, the pairs that
                                          led there, how it sits on each of a cast in each pose; exit 0 fitted,
                                          1 unsure (nothing is claimed), 2 not readable
  form [--size S|M|L | --measures FILE] [--expression JSON] [--pose JSON] --out F.glb|.obj|.json
                                          a head and bust by measures, to model upon, or its numbers; measures that nobody
                                          has together are named (exit 65)
  piece new NAME --out P.zip              an empty piece as a bundle
  piece edit P.zip [--edits FILE] [--add FILE … --as KIND] --out Q.zip
                                          brings files in (their ids are printed; a capture log, .jsonl, as a take),
                                          then applies edits; all of them or none
  piece show P.zip [--json]               the piece as it is kept
  piece check P.zip [--json]              findings; exit 0 nothing bars delivery, 1 a blocker, 2 not readable
  run P.zip --take NAME|FILE.jsonl --until S [--rate HZ] [--every S] [--log OUT.jsonl] [--json]
                                          runs a piece over a take or a capture log; a line a printed time;
                                          --log writes what was captured. NAME: a take of the piece, or ${TAKES.map((t) => t.id).join(', ')}
  schema NAME                             JSON Schema (2020-12). NAME: ${Object.keys(SCHEMAS).join(', ')}
  test [lint|unit|cli|server|operator|browser|sweep|mutants]   every test, or one kind; sweep: all of what they draw a tenth of;
                                          mutants [PATH …] [--seed N] [--count K]: faults that the tests must notice
  bench [intake|prepare|foreign|rig|run|fit|interface|server]
                                          speed and memory, as ratios in one run; intake, prepare, foreign: beside others
  build                                   build the application

All state lives in SCAPHOS_DATA (default: .data beside this program).`;

const OPTIONS = {
  json: { type: 'boolean' },
  as: { type: 'string' },
  fix: { type: 'string' },
  out: { type: 'string' },
  profile: { type: 'string' },
  recipe: { type: 'string' },
  edits: { type: 'string' },
  add: { type: 'string', multiple: true },
  chains: { type: 'boolean' },
  chain: { type: 'string', multiple: true },
  figure: { type: 'boolean' },
  garment: { type: 'boolean' },
  rest: { type: 'string' },
  detail: { type: 'string' },
  joints: { type: 'string' },
  form: { type: 'string' },
  size: { type: 'string' },
  measures: { type: 'string' },
  expression: { type: 'string' },
  pose: { type: 'string' },
  cast: { type: 'string' },
  gap: { type: 'string' },
  sheet: { type: 'string' },
  'keep-size': { type: 'boolean' },
  motion: { type: 'string', multiple: true },
  bones: { type: 'string', multiple: true },
  weights: { type: 'string' },
  take: { type: 'string' },
  log: { type: 'string' },
  until: { type: 'string' },
  rate: { type: 'string' },
  every: { type: 'string' },
  since: { type: 'string' },
  'max-bytes': { type: 'string' },
  'max-triangles': { type: 'string' },
  'max-texture': { type: 'string' },
  'max-bones': { type: 'string' },
  fresh: { type: 'boolean' },
  port: { type: 'string' },
  host: { type: 'string' },
  email: { type: 'string' },
  name: { type: 'string' },
  yard: { type: 'string' },
  password: { type: 'string' },
  help: { type: 'boolean', short: 'h' },
} as const;
type OptionName = keyof typeof OPTIONS;

/** Which options each command knows. */
const KNOWN: Record<string, OptionName[]> = {
  demo: ['port', 'host', 'fresh'],
  start: ['port', 'host'],
  account: ['email', 'name', 'yard', 'password'],
  session: ['email'],
  backup: [],
  restore: [],
  verify: [],
  audit: ['since', 'json'],
  inspect: ['json', 'as', 'fix', 'out'],
  prepare: ['json', 'as', 'out', 'profile', 'recipe', 'max-bytes', 'max-triangles', 'max-texture', 'max-bones'],
  rig: ['json', 'out', 'chains', 'chain', 'bones', 'figure', 'garment', 'form', 'rest', 'detail', 'joints', 'motion', 'weights'],
  fit: ['json', 'as', 'form', 'cast', 'gap', 'keep-size', 'sheet', 'out'],
  form: ['size', 'measures', 'expression', 'pose', 'out'],
  piece: ['json', 'as', 'out', 'edits', 'add'],
  run: ['json', 'take', 'log', 'until', 'rate', 'every'],
  schema: [],
  test: [],
  bench: [],
  build: [],
};

const usage = (why: string) => new CliFailure(`${why}\n\n${USAGE}`, 64);

function readWords(argv: string[]) {
  try {
    return parseArgs({ args: argv, options: OPTIONS, allowPositionals: true });
  } catch (error) {
    throw usage((error as Error).message);
  }
}

function readPort(text: string | undefined): number {
  const port = text === undefined ? 4780 : Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw usage(`--port takes a whole number from 1 to 65535, not ${text}.`);
  return port;
}

async function readInspectOptions(
  values: { json?: boolean; as?: string; fix?: string; out?: string },
  files: number,
): Promise<InspectOptions> {
  const kind = readKind(values.as);
  if (values.fix !== undefined && values.fix !== 'all') throw usage(`--fix takes all, not ${values.fix}.`);
  if ((values.fix === undefined) !== (values.out === undefined)) throw usage('--fix all and --out PATH belong together.');
  return { json: values.json ?? false, kind, out: values.out === undefined ? null : await readOut(values.out, files) };
}

function readKind(text: string | undefined): Kind | null {
  const kind = text === undefined ? null : Kind.safeParse(text);
  if (kind && !kind.success) throw usage(`--as takes one of ${Kind.options.join(', ')}, not ${text}.`);
  return kind?.data ?? null;
}

async function readOut(path: string, files: number): Promise<{ path: string; folder: boolean }> {
  const folder = (await stat(path).catch(() => null))?.isDirectory() ?? false;
  if (files > 1 && !folder) throw usage(`For several files --out must be a folder that is there; ${path} is not.`);
  return { path, folder };
}

type PrepareValues = Partial<
  Record<'as' | 'out' | 'profile' | 'recipe' | 'max-bytes' | 'max-triangles' | 'max-texture' | 'max-bones', string>
>;

async function readPrepareOptions(values: PrepareValues & { json?: boolean }, files: number): Promise<PrepareOptions> {
  const whole = (name: 'max-triangles' | 'max-texture' | 'max-bones') => {
    const n = values[name] === undefined ? null : Number(values[name]);
    if (n !== null && !(Number.isInteger(n) && n >= 1)) throw usage(`--${name} takes a whole number from 1 up, not ${values[name]}.`);
    return n;
  };
  const bytes = values['max-bytes'] === undefined ? null : parseBytes(values['max-bytes']);
  if (values['max-bytes'] !== undefined && !bytes)
    throw usage(`--max-bytes takes a size like 1MB, 800kB or 1.5MiB, not ${values['max-bytes']}.`);
  const typed = { bytes, triangles: whole('max-triangles'), textureEdge: whole('max-texture'), bones: whole('max-bones') };
  const any = Object.values(typed).some((x) => x !== null);
  if (values.profile !== undefined && any) throw usage('Give --profile or single limits, not both.');
  if (values.profile !== undefined && !Object.hasOwn(PROFILES, values.profile))
    throw usage(`--profile takes one of ${Object.keys(PROFILES).join(', ')}, not ${values.profile}.`);
  if (values.profile === undefined && !any && values.recipe === undefined) throw usage('prepare needs --profile, a limit, or --recipe.');
  if (values.out === undefined) throw usage('prepare needs --out PATH.');
  return {
    json: values.json ?? false,
    kind: readKind(values.as),
    limits: values.profile !== undefined ? PROFILES[values.profile as ProfileId].limits : any ? { ...NO_LIMITS, ...typed } : null,
    recipe: values.recipe === undefined ? null : await (await import('./prepare')).readRecipeFile(values.recipe),
    out: await readOut(values.out, files),
  };
}

interface RigValues {
  json?: boolean;
  out?: string;
  chains?: boolean;
  chain?: string[];
  bones?: string[];
  figure?: boolean;
  garment?: boolean;
  rest?: string;
  form?: string;
  detail?: string;
  joints?: string;
  motion?: string[];
  weights?: string;
}

async function readRigOptions(values: RigValues): Promise<RigOptions> {
  if (values.out === undefined) throw usage('rig needs --out PATH.');
  const { chain = [], bones = [], weights = 'auto' } = values;
  const ways = [values.chains ?? false, chain.length > 0, values.figure ?? false, values.garment ?? false];
  const moves = (values.motion ?? []).length > 0;
  const raised = ways.filter(Boolean).length;
  const rest = values.rest === undefined ? null : (REST_STANCE_NAMES.find((s) => s === values.rest) ?? undefined);
  if (rest === undefined) throw usage(`--rest takes ${REST_STANCE_NAMES.join(', ')}, not ${values.rest}.`);
  if (rest && (values.chains || chain.length > 0))
    throw usage('--rest is for a figure: with --figure or --garment, or alone for bones that the file has.');
  if (raised > 1 || (raised === 0 && !moves && !rest))
    throw usage(
      'rig takes --chains, or one --chain or more, or --figure, or --garment; or --motion or --rest alone for bones that the file has.',
    );
  if (!values.figure && values.joints !== undefined) throw usage('--joints belongs to --figure.');
  if (!values.figure && !values.garment && values.detail !== undefined) throw usage('--detail belongs to --figure and --garment.');
  if (!values.garment && values.form !== undefined) throw usage('--form belongs to --garment.');
  const form = FORM_SIZES.find((s) => s === (values.form ?? 'M'));
  if (form === undefined) throw usage(`--form takes ${FORM_SIZES.join(', ')}, not ${values.form}.`);
  if (!values.figure && raised > 0 && moves) throw usage('--motion is for a figure: with --figure, or alone for bones that the file has.');
  const detail = HUMANOID_DETAILS.find((d) => String(d) === (values.detail ?? '22'));
  if (detail === undefined) throw usage(`--detail takes ${HUMANOID_DETAILS.join(' or ')}, not ${values.detail}.`);
  if (weights !== 'auto' && weights !== 'heat' && weights !== 'voxel') throw usage(`--weights takes auto, heat or voxel, not ${weights}.`);
  if (bones.length > chain.length) throw usage('Every --bones belongs to a --chain before it.');
  const counts = bones.map((b) => {
    const n = Number(b);
    if (!(Number.isInteger(n) && n >= 1 && n <= 24)) throw usage(`--bones takes a whole number from 1 to 24, not ${b}.`);
    return n;
  });
  const { readCapture, readJoints, readMotion, readPresses } = await import('./rig');
  const asked = (values.motion ?? []).map((text) => ({ text, own: readMotion(text) }));
  return {
    json: values.json ?? false,
    raise: values.garment
      ? { garment: { form, detail, smooth: 6 } }
      : values.figure
        ? { figure: detail, joints: values.joints === undefined ? {} : await readJoints(values.joints) }
        : values.chains
          ? 'all'
          : chain.length === 0
            ? null
            : chain.map((c, i) => ({ ...readPresses(c), bones: counts[i] ?? null })),
    weights,
    rest,
    motions: asked.flatMap((m) => m.own ?? []),
    captures: asked.flatMap((m) => (m.own ? [] : [readCapture(m.text)])),
    out: values.out,
  };
}

type FitValues = { json?: boolean; 'keep-size'?: boolean } & Partial<Record<'as' | 'form' | 'cast' | 'gap' | 'sheet' | 'out', string>>;

async function readFitOptions(values: FitValues): Promise<FitOptions> {
  const kind = readKind(values.as);
  if (!kind) throw usage(`fit needs --as KIND: ${Kind.options.join(', ')}.`);
  if (values.sheet !== undefined && !/\.(csv|pdf|png)$/.test(values.sheet))
    throw usage(`--sheet writes a .csv, a .pdf or a .png, not ${values.sheet}.`);
  const { readGap, readWearer } = await import('./fit');
  const form = await readWearer(values.form ?? 'M');
  const cast = values.cast?.split(',').map((c) => c.trim()) ?? [];
  return {
    json: values.json ?? false,
    kind,
    form,
    cast: cast.length > 0 ? await Promise.all(cast.map(readWearer)) : [form],
    gapM: readGap(values.gap ?? '0.5mm'),
    keepSize: values['keep-size'] ?? false,
    sheet: values.sheet ?? null,
    out: values.out ?? null,
  };
}

type PieceValues = { json?: boolean; as?: string; out?: string; edits?: string; add?: string[] };

async function pieceCommand([act, what, ...more]: string[], values: PieceValues): Promise<number> {
  if (more.length > 0) throw usage(`piece ${act} takes one ${act === 'new' ? 'name' : 'bundle'}.`);
  if (!what) throw usage('piece takes new NAME, or edit, show, check and a bundle.');
  const writes = act === 'new' || act === 'edit';
  if (writes && values.out === undefined) throw usage(`piece ${act} needs --out PATH.`);
  const out = values.out as string;
  if (act !== 'edit' && (values.edits !== undefined || values.add !== undefined || values.as !== undefined))
    throw usage(`piece ${act} knows no --edits, --add or --as.`);
  const piece = await import('./piece');
  switch (act) {
    case 'new':
      return piece.newPieceCommand(what, out);
    case 'edit':
      if (values.edits === undefined && values.add === undefined) throw usage('piece edit needs --edits FILE or --add FILE.');
      return piece.editPieceCommand(what, { edits: values.edits ?? null, add: values.add ?? [], kind: readKind(values.as), out });
    case 'show':
      return piece.showPieceCommand(what, values.json ?? false);
    case 'check':
      return piece.checkPieceCommand(what, values.json ?? false);
    default:
      throw usage(`piece takes new, edit, show or check, not ${act}.`);
  }
}

function readRunOptions(values: {
  json?: boolean;
  take?: string;
  log?: string;
  until?: string;
  rate?: string;
  every?: string;
}): RunCommandOptions {
  const number = (name: 'until' | 'rate' | 'every', least: number, most: number, otherwise: number | null) => {
    if (values[name] === undefined) {
      if (otherwise === null) throw usage(`run needs --${name}.`);
      return otherwise;
    }
    const n = Number(values[name]);
    if (!(n >= least && n <= most)) throw usage(`--${name} takes a number from ${least} to ${most}, not ${values[name]}.`);
    return n;
  };
  if (values.take === undefined) throw usage('run needs --take NAME or --take FILE.jsonl.');
  return {
    take: values.take,
    untilS: number('until', 0, 86_400, null),
    rateHz: number('rate', 0.001, 1000, 60),
    everyS: values.every === undefined ? null : number('every', 0.001, 86_400, null),
    log: values.log ?? null,
    json: values.json ?? false,
  };
}

/** Hands over to a script, its signals and its exit code. */
function handOver(script: string, args: string[]): Promise<number> {
  const child = spawn(join(rootDir(), script), args, { cwd: rootDir(), stdio: 'inherit' });
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => child.kill(signal));
  return new Promise((resolve) => child.on('exit', (code) => resolve(code ?? 1)));
}

async function command(argv: string[]): Promise<number> {
  const { values, positionals } = readWords(argv);
  const [command, ...rest] = positionals;
  if (values.help) {
    process.stdout.write(`${USAGE}\n`);
    return 0;
  }
  if (!command || !Object.hasOwn(KNOWN, command)) throw usage(command ? `There is no command ${command}.` : 'Say what to do.');
  const stray = Object.keys(values).find((v) => !KNOWN[command].includes(v as OptionName));
  if (stray) throw usage(`${command} knows no --${stray}.`);
  switch (command) {
    case 'inspect':
      if (rest.length === 0) throw usage('inspect needs at least one file.');
      return (await import('./inspect')).inspectCommand(rest, await readInspectOptions(values, rest.length));
    case 'prepare':
      if (rest.length === 0) throw usage('prepare needs at least one file.');
      return (await import('./prepare')).prepareCommand(rest, await readPrepareOptions(values, rest.length));
    case 'rig':
      if (rest.length !== 1) throw usage('rig takes one file.');
      return (await import('./rig')).rigCommand(rest[0], await readRigOptions(values));
    case 'fit':
      if (rest.length !== 1) throw usage('fit takes one file.');
      return (await import('./fit')).fitCommand(rest[0], await readFitOptions(values));
    case 'form': {
      const { size, measures, expression = null, pose = null, out } = values;
      if (rest.length > 0) throw usage(`form takes no ${rest[0]}.`);
      if (size !== undefined && measures !== undefined) throw usage('form takes --size or --measures, not both.');
      if (size !== undefined && !FORM_SIZES.some((s) => s === size)) throw usage(`--size takes ${FORM_SIZES.join(', ')}, not ${size}.`);
      if (out === undefined) throw usage('form needs --out FILE.');
      return (await import('./form')).formCommand({ form: measures ?? size ?? 'M', expression, pose, out });
    }
    case 'piece':
      return pieceCommand(rest, values);
    case 'run':
      if (rest.length !== 1) throw usage('run takes one bundle.');
      return (await import('./run')).runCommand(rest[0], readRunOptions(values));
    case 'schema': {
      const schema = SCHEMAS[rest.join(' ')];
      if (!schema) throw usage(`There are schemas of ${Object.keys(SCHEMAS).join(', ')}.`);
      process.stdout.write(`${JSON.stringify(await schema(), null, 1)}\n`);
      return 0;
    }
    case 'audit': {
      if (rest.length > 0) throw usage(`audit takes no ${rest[0]}.`);
      return (await import('./account')).showAudit(values);
    }
    case 'backup':
    case 'restore':
    case 'verify': {
      if (rest.length > (command === 'verify' ? 0 : 1)) throw usage(`${command} takes no ${rest.at(-1)}.`);
      const { backup, restore, verify } = await import('./backup');
      return { backup, restore, verify }[command](rest[0]);
    }
    case 'account':
    case 'session': {
      const { ACCOUNT_ACTS, actOnAccounts } = await import('./account');
      const done = actOnAccounts([command, ...rest].join(' '), values);
      if (!done) throw usage(`There is ${ACCOUNT_ACTS.join(', ')}, and nothing else.`);
      return done;
    }
    case 'test':
      return handOver('scripts/test', rest);
    case 'bench':
      return handOver('scripts/bench', rest);
    case 'build':
      await (await import('./site')).buildSite();
      return 0;
    default:
      if (rest.length > 0) throw usage(`${command} takes no ${rest[0]}.`);
      return (await import('./serve')).serve({
        demo: command === 'demo',
        fresh: values.fresh ?? false,
        port: readPort(values.port),
        host: values.host ?? '127.0.0.1',
      });
  }
}

/** Runs one command line. Resolves to its exit code, after sysexits; what went wrong has been said on the standard error. */
export async function call(argv: string[]): Promise<number> {
  try {
    return await command(argv);
  } catch (error) {
    if (error instanceof CliFailure) {
      say(error.message);
      return error.exitCode;
    }
    say(`Something went wrong in Scaphos itself: ${(error as Error).stack ?? error}`);
    return 70;
  }
}
