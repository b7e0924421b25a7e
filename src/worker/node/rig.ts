/** The rig job: bones and weights raised in a model, written as a GLB, and what was found out about them. Runs in a disposable process. */
import { readFile, writeFile } from 'node:fs/promises';
import { IntakeError, readModel } from '@/core/intake';
import {
  type ChainAsked,
  type PoseTest,
  RigError,
  raiseBones,
  rigChains,
  rigLimbs,
  surfaceOf,
  testPoses,
  type Vec,
  type WeightMethod,
} from '@/core/rig';
import { readGlb } from './codecs';
import { writeGlb } from './glb';

export interface RigJob {
  /** File of the plain GLB. */
  path: string;
  chains: 'all' | ChainAsked[];
  weights: WeightMethod | 'auto';
  out: string;
}

export interface RigDone {
  bones: { name: string; parent: string | null; headM: Vec; tailM: Vec; sure: number }[];
  chains: { name: string; bones: string[]; strayMm: number; lengthM: number }[];
  found: string;
  weights: { method: WeightMethod; reason: string; maxInfluences: number; unweighted: number };
  test: PoseTest;
}

/** Of a proposal made without a press: it is for the artist to look at. */
const SURE = { pressed: 1, found: 0.7 };

/** @throws {IntakeError} what bars it, in words */
export async function runRig({ path, chains, weights, out }: RigJob): Promise<RigDone> {
  const document = await readGlb(await readFile(path));
  const surface = surfaceOf(readModel(document));
  try {
    const rig = chains === 'all' ? rigLimbs(surface, weights) : rigChains(surface, chains, weights);
    raiseBones(document, surface, rig);
    await writeFile(out, await writeGlb(document));
    const { method, reason, maxInfluences, unreached } = rig.binding;
    return {
      bones: rig.bones.map((b) => ({
        name: b.name,
        parent: b.parent < 0 ? null : rig.bones[b.parent].name,
        headM: b.head,
        tailM: b.tail,
        sure: chains === 'all' ? SURE.found : SURE.pressed,
      })),
      chains: rig.chains.map((c) => ({ name: c.name, bones: c.bones, strayMm: c.strayMm, lengthM: c.line.lengthM })),
      found: rig.found,
      weights: { method, reason, maxInfluences, unweighted: unreached },
      test: testPoses(surface, rig.bones, rig.binding),
    };
  } catch (error) {
    throw error instanceof RigError ? new IntakeError(error.code, error.message) : error;
  }
}
