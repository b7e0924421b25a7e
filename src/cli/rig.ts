/** `./scaphos rig FILE`: bones and weights, headless. */
import { copyFile, mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as z from 'zod';
import { retargetName } from '@/core/rig';
import { counted } from '@/core/words/counted';
import {
  HUMANOID_BONES,
  HUMANOID_SETS,
  type HumanoidDetail,
  MOTION_NAMES,
  MOTION_SPEEDS,
  type MotionName,
  SURE,
} from '@/core/words/humanoid';
import type { RestStance } from '@/core/words/stances';
import { intake, JobError, openModel, rig } from '@/worker/node';
import { CliFailure } from './failure';

type Place = [number, number, number];

export interface RigOptions {
  json: boolean;
  /** Null: the bones that the file has. */
  raise:
    | null
    | 'all'
    | { root: Place; tip: Place; bones: number | null }[]
    | { figure: HumanoidDetail; joints: Record<string, Place> }
    | { garment: { form: 'S' | 'M' | 'L'; detail: HumanoidDetail; smooth: number } };
  weights: 'auto' | 'heat' | 'voxel';
  motions: { motion: MotionName; speed: number | null; energy: number; inPlace: boolean }[];
  /** Files of captured motions, and how fast. */
  captures: { file: string; speed: number }[];
  /** Arms of a figure held so at rest; null: as they are. */
  rest: RestStance | null;
  out: string;
}

const Point = z.tuple([z.number(), z.number(), z.number()]);
const RiggedRow = z.strictObject({
  file: z.string(),
  bones: z.array(
    z.strictObject({
      name: z.string(),
      parent: z.string().nullable(),
      headM: Point,
      tailM: Point,
      /** VRM 1.0 humanoid bone, of a figure. */
      humanoid: z.string().optional(),
      sure: z.number().min(0).max(1),
    }),
  ),
  chains: z.array(z.strictObject({ name: z.string(), bones: z.array(z.string()), strayMm: z.number(), lengthM: z.number() })),
  /** Of a figure: ends that belong to none of its limbs, which can become chains. */
  others: z.array(z.strictObject({ atM: Point, lengthM: z.number() })),
  /** How bones were come by. */
  found: z.string(),
  /** Of bones that were raised. */
  weights: z
    .strictObject({ method: z.enum(['heat', 'voxel', 'form']), reason: z.string(), maxInfluences: z.int(), unweighted: z.int() })
    .optional(),
  /** Each bone turned by 30° about its head, both ways across. */
  test: z.strictObject({ stretchMax: z.number(), flips: z.int(), volumeChange: z.number(), worst: z.string().nullable() }).optional(),
  /** Of bones that the file has: joints that are none of a figure's. */
  leftOver: z.array(z.string()).optional(),
  /** Of each clip: how far a standing foot slips, how well its end meets its beginning. */
  retarget: z.array(z.strictObject({ clip: z.string(), seconds: z.number(), footSlipMm: z.number(), loopGapDeg: z.number() })).optional(),
  written: z.string(),
  seconds: z.number(),
});
const UnriggedRow = z.strictObject({ file: z.string(), error: z.strictObject({ code: z.string(), message: z.string() }) });
export const RigRow = z.union([RiggedRow, UnriggedRow]);
type Row = z.infer<typeof RigRow>;

/** JSON Schema (2020-12) of one line of `rig --json`. */
export const rigSchema = (): unknown => ({
  ...(z.toJSONSchema(RigRow, { io: 'output' }) as object),
  title: 'One line of ./scaphos rig --json',
});

/** "x,y,z:x,y,z", metres of the file. @throws {CliFailure} anything else */
export function readPresses(text: string): { root: Place; tip: Place } {
  const points = text.split(':').map((p) => p.split(',').map(Number));
  if (points.length !== 2 || points.some((p) => p.length !== 3 || !p.every(Number.isFinite)))
    throw new CliFailure(`--chain takes a root and a tip in metres, like 0,0.1,0:0,0.3,0.05, not ${text}.`, 64);
  return { root: points[0] as Place, tip: points[1] as Place };
}

const Joints = z.record(z.string(), Point);
/** Joints of a figure from a file: `{ "leftHand": [x, y, z], … }`, metres of the model. @throws {CliFailure} anything else */
export async function readJoints(path: string): Promise<Record<string, Place>> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new CliFailure(`There is no file ${path} for --joints.`, 66);
  });
  let said: unknown;
  try {
    said = JSON.parse(text);
  } catch (error) {
    throw new CliFailure(`${path} is no JSON: ${(error as Error).message}.`, 65);
  }
  const joints = Joints.safeParse(said);
  if (!joints.success) throw new CliFailure(`${path} holds joints as { "leftHand": [x, y, z], … } in metres, and nothing else.`, 65);
  const strange = Object.keys(joints.data).find((n) => !HUMANOID_BONES.includes(n));
  if (strange !== undefined)
    throw new CliFailure(
      `${path} names ${strange}, which is no bone of a figure: ${HUMANOID_SETS[22].join(', ')}, and those of fingers.`,
      65,
    );
  return joints.data;
}

/** "walk", "walk:1.1"; null: a file. @throws {CliFailure} a motion there is not, or a speed it does not bear */
export function readMotion(text: string): RigOptions['motions'][number] | null {
  const [name, at] = text.split(':');
  const motion = MOTION_NAMES.find((m) => m === name);
  if (!motion && /[./]/.test(text)) return null;
  if (!motion) throw new CliFailure(`--motion takes one of ${MOTION_NAMES.join(', ')}, or a file, not ${name}.`, 64);
  const bears = MOTION_SPEEDS[motion];
  const speed = at === undefined ? null : Number(at);
  if (speed !== null && !(bears && speed >= bears.least && speed <= bears.most))
    throw new CliFailure(
      bears ? `${motion} goes at ${bears.least} to ${bears.most} ${bears.unit}, not ${at}.` : `${motion} has no speed of its own.`,
      64,
    );
  return { motion, speed, energy: 1, inPlace: true };
}

/** "walk.bvh" or "walk.bvh:1.5". @throws {CliFailure} a speed that is none */
export function readCapture(text: string): RigOptions['captures'][number] {
  const [, file, at] = /^(.*?)(?::([^:/]*))?$/.exec(text) as RegExpExecArray;
  const speed = at === undefined ? 1 : Number(at);
  if (!(speed >= 0.25 && speed <= 4)) throw new CliFailure(`A captured motion goes at 0.25 to 4 times its speed, not ${at}.`, 64);
  return { file, speed };
}

/** Of a captured motion by itself: on the spot, coming round, feet held. */
const AS_TAKEN = { clip: null, energy: 1, inPlace: true, blend: 12, standing: true } as const;

async function rigFile(file: string, { raise, weights, motions, captures, rest, out }: RigOptions): Promise<Row> {
  const failed = (code: string, message: string): Row => ({ file, error: { code, message } });
  const found = await stat(file).catch(() => null);
  if (!found) return failed('file/not-found', `There is no file ${file}.`);
  if (!found.isFile()) return failed('file/not-a-file', `${file} is not a file.`);
  const from = performance.now();
  const dir = await mkdtemp(join(tmpdir(), 'scaphos-rig-'));
  try {
    const opened = await openModel({ files: [{ name: file.slice(file.lastIndexOf('/') + 1), path: file }], fromDisk: true, outDir: dir });
    const made = join(dir, 'rigged.glb');
    const taken: Parameters<typeof rig>[0]['captures'] = [];
    for (const c of captures) {
      if (!(await stat(c.file).catch(() => null))) return failed('file/not-found', `There is no file ${c.file}.`);
      const name = c.file.slice(c.file.lastIndexOf('/') + 1);
      const [read] = (await intake({ files: [{ name, path: c.file }], outDir: dir })).items;
      if (!read?.model || (read.facts.kind !== 'motion' && read.facts.kind !== 'model'))
        return failed('rig/no-clip', `${name} holds no motion.`);
      taken.push({ ...AS_TAKEN, name: retargetName({ clip: null, name }), speed: c.speed, path: join(dir, read.model) });
    }
    const done = await rig({ path: join(dir, opened.model), raise, weights, motions, captures: taken, rest, out: made });
    await copyFile(made, out);
    return { file, ...done, written: out, seconds: Number(((performance.now() - from) / 1000).toFixed(2)) };
  } catch (error) {
    if (error instanceof JobError) return failed(error.code, error.message);
    throw error;
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}

function inWords(row: Row): string {
  if ('error' in row) return `${row.file}\n  not rigged: ${row.error.message} [${row.error.code}]`;
  const figure = row.bones.some((b) => b.humanoid !== undefined);
  const look = row.bones.filter((b) => b.sure < SURE);
  return [
    `${row.file}`,
    `  ${row.weights?.method === 'form' ? 'a garment on the body' : figure ? 'a figure' : counted(row.chains.length, 'chain')}, ${counted(row.bones.length, 'bone')}; found by ${row.found}`,
    ...look.map(
      (b) => `  to be looked at: ${b.name}, ${Math.round(b.sure * 100)} % sure, at ${b.headM.map((x) => x.toFixed(3)).join(', ')} m`,
    ),
    ...row.others.map(
      (o) => `  an end of no limb, ${(o.lengthM * 1000).toFixed(0)} mm long, at ${o.atM.map((x) => x.toFixed(3)).join(', ')} m`,
    ),
    ...row.chains.map(
      (c) =>
        `  ${c.name}: ${counted(c.bones.length, 'bone')}, ${(c.lengthM * 1000).toFixed(0)} mm long, straight bones stray ${c.strayMm.toFixed(1)} mm`,
    ),
    ...(row.leftOver && row.leftOver.length > 0 ? [`  none of a figure’s: ${row.leftOver.join(', ')}`] : []),
    ...(row.weights
      ? [
          `  weights by ${row.weights.method}: ${row.weights.reason} At most ${row.weights.maxInfluences} bones a vertex${row.weights.unweighted > 0 ? `; ${row.weights.unweighted} vertices reached by none follow the nearest` : ''}.`,
        ]
      : []),
    ...(row.test
      ? [
          `  each bone turned by 30°: longest edge ×${row.test.stretchMax.toFixed(2)}, ${row.test.flips} triangles turned over, volume ${(row.test.volumeChange * 100).toFixed(1)} %`,
        ]
      : []),
    ...(row.retarget ?? []).map(
      (r) =>
        `  ${r.clip}: ${r.seconds.toFixed(2)} s, standing feet slip ${r.footSlipMm.toFixed(1)} mm at most, its ends are ${r.loopGapDeg.toFixed(2)}° apart`,
    ),
    `  written to ${row.written}`,
  ].join('\n');
}

/** Exit code: 0 rigged; 1 nothing in it is long enough for a chain, or joints of a figure are to be looked at; 2 not readable or not to be rigged. */
export async function rigCommand(file: string, options: RigOptions): Promise<number> {
  const row = await rigFile(file, options);
  process.stdout.write(`${options.json ? JSON.stringify(row) : inWords(row)}\n`);
  if ('error' in row) return row.error.code === 'rig/no-limbs' ? 1 : 2;
  return row.bones.some((b) => b.humanoid !== undefined && b.sure < SURE) ? 1 : 0;
}
