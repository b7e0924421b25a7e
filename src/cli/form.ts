/** `./scaphos form`: a form by size or measures, with an expression and a pose, as a file to model upon or as numbers. */
import { writeFile } from 'node:fs/promises';
import type { Matrix4 } from 'three';
import * as z from 'zod';
import { poseWearer, type WearerPose } from '@/core/capture';
import {
  ACTION_UNITS,
  bendBones,
  bendForm,
  buildFormBase,
  contradictionsOf,
  type Expression,
  type FormAsk,
  finerOf,
  formDocument,
  formObj,
  MEASURE_ENDS,
  MEASURES,
  makeForm,
  regionIndices,
  skeletonOf,
  WHOLE_UNITS,
  weightsOf,
} from '@/core/form';
import { writeGlb } from '@/worker/node/glb';
import { readJsonFile } from './bundle';
import { CliFailure } from './failure';
import { readWearer } from './fit';

export interface FormOptions {
  /** A size, or a file of measures. */
  form: string;
  /** JSON, or a file of it. */
  expression: string | null;
  pose: string | null;
  out: string;
}

const deg = z.number().min(-360).max(360).default(0);
const Turn = z.strictObject({ yawDeg: deg, pitchDeg: deg, rollDeg: deg });
const Pose = z.union([z.strictObject({ head: Turn, neck: Turn.optional(), shoulders: Turn.optional() }), Turn]);
const UNITS = new Set<string>([...WHOLE_UNITS, ...ACTION_UNITS]);
const Weights = z.record(
  z.string().refine((unit) => UNITS.has(unit), { error: `units are ${[...UNITS].join(', ')}` }),
  z.number().min(0).max(1),
);

async function readAs<T>(text: string | null, what: string, schema: z.ZodType<T>, otherwise: T): Promise<T> {
  if (text === null) return otherwise;
  let data: unknown;
  if (text.trimStart().startsWith('{')) {
    try {
      data = JSON.parse(text);
    } catch (error) {
      throw new CliFailure(`--${what} is not JSON: ${(error as Error).message}`, 64);
    }
  } else data = await readJsonFile(text, `file of an ${what}`);
  const read = schema.safeParse(data);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw new CliFailure(`--${what} is broken at ${issue.path.join('.') || 'its root'}: ${issue.message}.`, 65);
}

/** @throws {CliFailure} 64 misused, 65 measures that nobody has together, which are named */
export async function formCommand(o: FormOptions): Promise<number> {
  const kind = /\.(glb|obj|json)$/i.exec(o.out)?.[1].toLowerCase();
  if (!kind) throw new CliFailure(`--out takes a file that ends in .glb, .obj or .json, not ${o.out}.`, 64);
  const wearer = await readWearer(o.form);
  const ask: FormAsk = typeof wearer === 'string' ? wearer : wearer.measures;
  const name = typeof wearer === 'string' ? wearer : wearer.name;
  const expression = weightsOf((await readAs(o.expression, 'expression', Weights, {})) as Expression);
  const pose = (await readAs<z.infer<typeof Pose>>(o.pose, 'pose', Pose, { yawDeg: 0, pitchDeg: 0, rollDeg: 0 })) as
    | WearerPose
    | WearerPose['head'];
  const base = buildFormBase();
  const made = makeForm(base, ask, expression);
  const wrong = contradictionsOf(ask, made);
  if (wrong.length > 0) throw new CliFailure(`${o.form}: nobody has these measures together. ${wrong.join(' ')}`, 65);
  const posed = { ...made, positions: made.positions.slice(), normals: made.normals.slice() };
  const bones = skeletonOf(made);
  const { head, shoulders } = poseWearer('head' in pose ? pose : { head: pose }, bones);
  bendForm(made, bendBones(head, shoulders, bones), posed);
  carry(head, posed.positions, 1);
  carry(head, posed.normals, 0);
  for (const mark of Object.values(posed.landmarks)) {
    const v = mark.index * 3;
    mark.position = [posed.positions[v], posed.positions[v + 1], posed.positions[v + 2]];
  }
  if (kind === 'obj') await writeFile(o.out, formObj(posed, name));
  else if (kind === 'glb') await writeFile(o.out, await writeGlb(formDocument(posed, name)));
  else {
    // measures are those of the neutral form at rest
    const neutral = makeForm(base, ask);
    await writeFile(o.out, `${JSON.stringify(numbersOf(neutral, posed))}\n`);
  }
  return 0;
}

type Made = ReturnType<typeof makeForm>;
function numbersOf(neutral: Made, posed: Made) {
  const at = (landmark: keyof Made['landmarks']) => neutral.landmarks[landmark].position;
  const apart = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((x, k) => x - b[k])) * 1000;
  return {
    measuresMm: Object.fromEntries(MEASURES.map((m) => [m, apart(at(MEASURE_ENDS[m][0]), at(MEASURE_ENDS[m][1]))])),
    headCircumferenceMm: neutral.headCircumferenceMm,
    finer: finerOf(neutral),
    landmarksM: Object.fromEntries(Object.entries(posed.landmarks).map(([name, { position }]) => [name, position])),
    regions: Object.fromEntries((['head', 'face', 'bust'] as const).map((r) => [r, { triangles: regionIndices(posed, r).length / 3 }])),
    vertices: posed.positions.length / 3,
    triangles: posed.indices.length / 3,
  };
}

/** From the head's frame to the world's. @param w 1: places, 0: directions */
function carry(head: Matrix4, list: Float32Array, w: 0 | 1): void {
  const e = head.elements;
  for (let i = 0; i < list.length; i += 3) {
    const [x, y, z] = [list[i], list[i + 1], list[i + 2]];
    for (let k = 0; k < 3; k++) list[i + k] = e[k] * x + e[4 + k] * y + e[8 + k] * z + e[12 + k] * w;
  }
}
