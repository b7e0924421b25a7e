/** The rig job: bones and weights raised in a model, written as a GLB, and what was found out about them. Runs in a disposable process. */
import { readFile, writeFile } from 'node:fs/promises';
import type { Document } from '@gltf-transform/core';
import type { BodyBase } from '@/core/form/body';
import { IntakeError, readModel } from '@/core/intake';
import {
  addClip,
  type ChainAsked,
  type Held,
  hangChains,
  heldBy,
  knownSkeleton,
  type Laid,
  type LaidAsked,
  type MotionAsked,
  mostInfluences,
  motionClip,
  type PoseTest,
  type RetargetAsked,
  type Rig,
  RigError,
  raiseBones,
  restIn,
  retargetClip,
  rigChains,
  rigFigure,
  rigLimbs,
  sparsOf,
  surfaceOf,
  testPoses,
  type Vec,
  type WeightMethod,
} from '@/core/rig';
import { rigLaid } from '@/core/rig/weights/laid';
import type { HumanoidDetail } from '@/core/words/humanoid';
import type { RestStance } from '@/core/words/stances';
import { bakedBody } from './bodybase';
import { readGlb } from './codecs';
import { writeGlb } from './glb';

export interface RigJob {
  /** File of the plain GLB. */
  path: string;
  /** A chain in all limbs, chains where they were pressed, a figure, or the bones of the body it lies on; null: the bones that it has. */
  raise: null | 'all' | ChainAsked[] | { figure: HumanoidDetail; joints: Record<string, Vec> } | { garment: LaidAsked };
  weights: WeightMethod | 'auto';
  /** Clips of our own on a figure. */
  motions: MotionAsked[];
  /** Captured ones: files of their GLBs. */
  captures: (RetargetAsked & { path: string })[];
  /** Arms of a figure held so at rest; null: as they are. */
  rest: RestStance | null;
  out: string;
}

export interface RigDone {
  bones: { name: string; parent: string | null; headM: Vec; tailM: Vec; humanoid?: string; sure: number }[];
  chains: { name: string; bones: string[]; strayMm: number; lengthM: number }[];
  /** Of a figure: ends that belong to none of its limbs. */
  others: { atM: Vec; lengthM: number }[];
  found: string;
  /** Of bones that were raised. */
  weights?: { method: WeightMethod | 'form'; reason: string; maxInfluences: number; unweighted: number };
  test?: PoseTest;
  /** Of bones that the file has: joints that are none of a figure's. */
  leftOver?: string[];
  retarget?: { clip: string; seconds: number; footSlipMm: number; loopGapDeg: number }[];
}

/** Of a proposal made without a press: it is for the artist to look at. */
const SURE_OF = { pressed: 1, found: 0.7 };

/** @throws {IntakeError} what bars it, in words */
export async function runRig({ path, raise, weights, motions, captures, rest, out }: RigJob): Promise<RigDone> {
  const document = await readGlb(await readFile(path));
  try {
    const done =
      raise === null
        ? ownBones(document)
        : raiseIn(document, raise, weights, typeof raise === 'object' && 'garment' in raise ? await bakedBody() : null);
    if (rest) restIn(document, rest);
    const clips = motions.map((m) => motionClip(document, m));
    for (const { path: motion, ...asked } of captures)
      clips.push(retargetClip(document, readModel(await readGlb(await readFile(motion))), asked));
    for (const c of clips) addClip(document, c);
    await writeFile(out, await writeGlb(document));
    return {
      ...done,
      ...(clips.length > 0 && {
        retarget: clips.map((c) => ({ clip: c.name, seconds: c.seconds, footSlipMm: c.footSlipMm, loopGapDeg: c.loopGapDeg })),
      }),
    };
  } catch (error) {
    throw error instanceof RigError ? new IntakeError(error.code, error.message) : error;
  }
}

const chainRows = (chains: Rig['chains']): RigDone['chains'] =>
  chains.map((c) => ({ name: c.name, bones: c.bones, strayMm: c.strayMm, lengthM: c.line.lengthM }));

/** Chains on the bones that the file came with. */
function hungIn(document: Document, asked: readonly ChainAsked[], weights: WeightMethod | 'auto'): RigDone {
  const { chains, binding, found } = hangChains(document, asked, weights);
  const held = heldBy(readModel(document)) as Held;
  return {
    bones: held.bones.map((b) => ({
      name: b.name,
      parent: b.parent < 0 ? null : held.bones[b.parent].name,
      headM: b.head,
      tailM: b.tail,
      sure: b.sure ?? 1,
    })),
    chains: chainRows(chains),
    others: [],
    found,
    weights: {
      method: binding.method,
      reason: binding.reason,
      maxInfluences: mostInfluences(held.binding.shares),
      unweighted: binding.unreached,
    },
    test: testPoses(held.surface, held.bones, held.binding),
  };
}

function raiseIn(document: Document, raise: NonNullable<RigJob['raise']>, weights: WeightMethod | 'auto', body: BodyBase | null): RigDone {
  if (Array.isArray(raise) && document.getRoot().listSkins().length > 0) return hungIn(document, raise, weights);
  const surface = surfaceOf(readModel(document));
  const laid = body && typeof raise === 'object' && 'garment' in raise ? rigLaid(surface, body, raise.garment) : null;
  const figure =
    typeof raise === 'object' && 'figure' in raise ? rigFigure(surface, { detail: raise.figure, joints: raise.joints, weights }) : null;
  const chains = figure || laid ? null : raise === 'all' ? rigLimbs(surface, weights) : rigChains(surface, raise as ChainAsked[], weights);
  const found = laid ? laidWords(laid) : ((figure ?? chains)?.found ?? '');
  const { bones, binding } = (laid ?? figure ?? chains) as Pick<Rig, 'bones' | 'binding'>;
  raiseBones(document, surface, { bones, binding });
  const { method, reason, maxInfluences, unreached } = binding;
  return {
    bones: bones.map((b) => ({
      name: b.name,
      parent: b.parent < 0 ? null : bones[b.parent].name,
      headM: b.head,
      tailM: b.tail,
      ...((figure || laid) && { humanoid: b.name }),
      sure: b.sure ?? (raise === 'all' ? SURE_OF.found : SURE_OF.pressed),
    })),
    chains: chainRows(chains?.chains ?? []),
    others: figure?.others.map(({ at, lengthM }) => ({ atM: at, lengthM })) ?? [],
    found,
    weights: { method, reason, maxInfluences, unweighted: unreached },
    test: testPoses(surface, bones, binding),
  };
}

const STANCE_WORDS: Readonly<Record<string, string>> = {
  A: 'arms out',
  T: 'arms level',
  armsHalf: 'arms half down',
  armsDown: 'arms down',
};
const laidWords = ({ stance, frame, awayMm }: Laid) =>
  `the skin it lies on, ${awayMm.toFixed(0)} mm away in the middle, ${STANCE_WORDS[stance]}, origin ${frame === 'body' ? 'on the floor' : 'in the head'}`;

/** The figure in bones that the file came with. @throws {RigError} it is none */
function ownBones(document: Document): RigDone {
  const model = readModel(document);
  const { nodeOf, others, by } = knownSkeleton(model);
  const boneOf = new Map([...nodeOf].map(([bone, node]) => [model.nodes[node].name, bone]));
  const { spars } = sparsOf(model);
  return {
    bones: spars.map(({ name, parent, head, tail, sure }) => ({
      name,
      parent: parent < 0 ? null : spars[parent].name,
      headM: head,
      tailM: tail,
      ...(boneOf.has(name) && { humanoid: boneOf.get(name) }),
      sure,
    })),
    chains: [],
    others: [],
    found: by === 'names' ? 'their names' : 'how they branch',
    leftOver: others.map((n) => model.nodes[n].name),
  };
}
