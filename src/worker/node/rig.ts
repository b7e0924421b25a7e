/** The rig job: bones and weights raised in a model, written as a GLB, and what was found out about them. Runs in a disposable process. */
import { readFile, writeFile } from 'node:fs/promises';
import { IntakeError, readModel } from '@/core/intake';
import {
  addClip,
  type ChainAsked,
  type MotionAsked,
  motionClip,
  type PoseTest,
  type Rig,
  RigError,
  type RiggedFigure,
  raiseBones,
  rigChains,
  rigFigure,
  rigLimbs,
  surfaceOf,
  testPoses,
  type Vec,
  type WeightMethod,
} from '@/core/rig';
import type { HumanoidDetail } from '@/core/words/humanoid';
import { readGlb } from './codecs';
import { writeGlb } from './glb';

export interface RigJob {
  /** File of the plain GLB. */
  path: string;
  /** A chain in all limbs, chains where they were pressed, or a figure. */
  raise: 'all' | ChainAsked[] | { figure: HumanoidDetail; joints: Record<string, Vec> };
  weights: WeightMethod | 'auto';
  /** Clips of our own on a figure. */
  motions: MotionAsked[];
  out: string;
}

export interface RigDone {
  bones: { name: string; parent: string | null; headM: Vec; tailM: Vec; humanoid?: string; sure: number }[];
  chains: { name: string; bones: string[]; strayMm: number; lengthM: number }[];
  /** Of a figure: ends that belong to none of its limbs. */
  others: { atM: Vec; lengthM: number }[];
  found: string;
  weights: { method: WeightMethod; reason: string; maxInfluences: number; unweighted: number };
  test: PoseTest;
  retarget?: { clip: string; seconds: number; footSlipMm: number; loopGapDeg: number }[];
}

/** Of a proposal made without a press: it is for the artist to look at. */
const SURE_OF = { pressed: 1, found: 0.7 };

/** @throws {IntakeError} what bars it, in words */
export async function runRig({ path, raise, weights, motions, out }: RigJob): Promise<RigDone> {
  const document = await readGlb(await readFile(path));
  const surface = surfaceOf(readModel(document));
  try {
    const figure =
      typeof raise === 'object' && 'figure' in raise ? rigFigure(surface, { detail: raise.figure, joints: raise.joints, weights }) : null;
    const chains = figure ? null : raise === 'all' ? rigLimbs(surface, weights) : rigChains(surface, raise as ChainAsked[], weights);
    const { bones, binding, found } = (figure ?? chains) as RiggedFigure | Rig;
    raiseBones(document, surface, { bones, binding });
    const clips = motions.map((m) => motionClip(document, m));
    for (const c of clips) addClip(document, c);
    await writeFile(out, await writeGlb(document));
    const { method, reason, maxInfluences, unreached } = binding;
    return {
      bones: bones.map((b) => ({
        name: b.name,
        parent: b.parent < 0 ? null : bones[b.parent].name,
        headM: b.head,
        tailM: b.tail,
        ...(figure && { humanoid: b.name }),
        sure: b.sure ?? (raise === 'all' ? SURE_OF.found : SURE_OF.pressed),
      })),
      chains: chains?.chains.map((c) => ({ name: c.name, bones: c.bones, strayMm: c.strayMm, lengthM: c.line.lengthM })) ?? [],
      others: figure?.others.map(({ at, lengthM }) => ({ atM: at, lengthM })) ?? [],
      found,
      weights: { method, reason, maxInfluences, unweighted: unreached },
      test: testPoses(surface, bones, binding),
      ...(clips.length > 0 && {
        retarget: clips.map((c) => ({ clip: c.name, seconds: c.seconds, footSlipMm: c.footSlipMm, loopGapDeg: c.loopGapDeg })),
      }),
    };
  } catch (error) {
    throw error instanceof RigError ? new IntakeError(error.code, error.message) : error;
  }
}
