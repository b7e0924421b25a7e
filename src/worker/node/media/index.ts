/** Stock files that are no models, read in Node: facts, and the files they are used as. */
import {
  bvhDocument,
  type FrameGroup,
  findImporter,
  guessBvhUnit,
  IntakeError,
  type MediaFacts,
  type Model,
  type MotionFacts,
  measureMotion,
  motionFindings,
  pictureLeaf,
  readBvh,
  readModel,
  restHeight,
} from '@/core/intake';
import type { StepDraft } from '@/core/piece';
import { sha256Hex } from '../codecs';
import { writeGlb } from '../glb';
import { readEnvironment } from './environment';
import { readPicture } from './picture';
import { readAnimated, readFrames } from './sequence';

/** What came of one file: blobs to keep, the one it is used as, and the facts. */
export interface MediaResult {
  facts: MediaFacts;
  /** SHA-256 of what it is used as; among the blobs, or the original itself. */
  model: string;
  blobs: Uint8Array[];
}

const pictureResult = async (
  name: string,
  bytes: Uint8Array,
  steps: readonly StepDraft[] = [],
  options: { tryPacking?: boolean } = {},
): Promise<MediaResult> => {
  const { facts, used, glb } = await readPicture(name, bytes, steps, options);
  return { facts, model: sha256Hex(glb), blobs: [used.bytes, glb] };
};

function motionFacts(model: Model, bytes: number, format: string, factor: number, said: string | null): MotionFacts {
  const measured = measureMotion(model);
  return {
    kind: 'motion',
    readable: true,
    bytes,
    format,
    factor,
    ...measured,
    findings: [...(said ? [{ code: 'motion/unit', level: 'note' as const, message: said }] : []), ...motionFindings(measured.clips)],
  };
}

/** A model without shapes that moves: a motion clip. */
export const motionOf = motionFacts;

async function readMotion(name: string, bytes: Uint8Array): Promise<MediaResult> {
  const bvh = readBvh(new TextDecoder('latin1').decode(bytes));
  const height = restHeight(bvh);
  const { factor, word } = guessBvhUnit(height);
  const leaf = pictureLeaf(name).replace(/\.[^.]+$/, '');
  const document = bvhDocument(bvh, leaf, factor);
  const model = readModel(document);
  const glb = await writeGlb(document);
  const said = `BVH records no unit. Read in ${word} the figure is ${(height * factor).toFixed(2)} m tall.`;
  return { facts: motionFacts(model, bytes.byteLength, 'bvh', factor, said), model: sha256Hex(glb), blobs: [glb] };
}

/** One file that is no model. null: of no kind that is read. @throws {IntakeError} broken or too large. */
export async function readMedia(name: string, bytes: Uint8Array, options: { tryPacking?: boolean } = {}): Promise<MediaResult | null> {
  const importer = findImporter(bytes.subarray(0, 4096), name);
  switch (importer?.road) {
    case 'picture': {
      const moving = await readAnimated(name, bytes);
      if (moving) return { facts: moving.facts, model: sha256Hex(moving.glb), blobs: [moving.sheet, moving.glb] };
      return pictureResult(name, bytes, [], options);
    }
    case 'sound':
    case 'moving': {
      const { readMoving } = await import('./sound');
      const facts = await readMoving(name, bytes);
      return { facts, model: sha256Hex(bytes), blobs: [] };
    }
    case 'environment': {
      const { facts, used } = readEnvironment(name, bytes, importer.id as 'hdr' | 'exr');
      return { facts, model: sha256Hex(used), blobs: used === bytes ? [] : [used] };
    }
    case 'motion':
      return readMotion(name, bytes);
    default:
      return null;
  }
}

export async function readSequence(
  name: string,
  total: number,
  group: FrameGroup,
  files: ReadonlyMap<string, Uint8Array>,
): Promise<MediaResult> {
  const { facts, sheet, glb } = await readFrames(name, total, group, files);
  return { facts, model: sha256Hex(glb), blobs: [sheet, glb] };
}

export interface MediaSource {
  kind: MediaFacts['kind'];
  name: string;
  bytes: Uint8Array;
  /** Frames of a sequence that came as files. */
  frames: { group: FrameGroup; files: ReadonlyMap<string, Uint8Array> } | null;
}

/** A stock file after its steps, made anew from the original. @throws {IntakeError} steps that do not fit it. */
export async function prepareMedia({ kind, name, bytes, frames }: MediaSource, steps: readonly StepDraft[]): Promise<MediaResult> {
  if (kind === 'picture') return pictureResult(name, bytes, steps);
  if (kind === 'sequence') {
    const made = frames
      ? await readFrames(name, bytes.byteLength, frames.group, frames.files, steps)
      : await readAnimated(name, bytes, steps);
    if (!made) throw new IntakeError('sequence/unreadable', `${pictureLeaf(name)} has no frames to play.`);
    return { facts: made.facts, model: sha256Hex(made.glb), blobs: [made.sheet, made.glb] };
  }
  if (kind === 'sound') {
    const { prepareSound } = await import('./sound');
    const made = await prepareSound(name, bytes, steps);
    return { facts: made.facts, model: sha256Hex(made.bytes), blobs: [made.bytes] };
  }
  throw new IntakeError('recipe/kind', `There are no steps for a file of kind ${kind}.`);
}
