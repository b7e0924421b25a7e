/** All fixes at once on files nobody here made: nothing may look worse, nothing may be invalid, and a second run must change nothing. */
import { readFileSync } from 'node:fs';
import { Matrix4 } from 'three';
import { isUnseen, judgeFindings, NO_CREDIT, type StockFacts } from '@/core/intake';
import type { StepDraft } from '@/core/piece';
import { FIX_ROUNDS, mergeDrafts, moveShape, readShape, runStep, SEEN_FAULTS, TextureCache } from '@/core/prepare';
import { makeReference, measureViews } from '@/core/prepare/measure/error';
import { bakedBody } from '@/worker/node/bodybase';
import { nodeDecoders, readGlb, sha256Hex, validate } from '@/worker/node/codecs';
import { factsOf } from '@/worker/node/facts';
import { writeGlb } from '@/worker/node/glb';
import { nodePictures } from '@/worker/node/pictures';

export interface Mended {
  /** Least similarity of a view, against the model as it came, moved as the fixes move it. */
  ssim: number;
  view: string;
  /** Codes whose fix ran, and those that were left to be pressed singly. */
  ran: string[];
  left: string[];
  /** Codes of faults that are seen themselves. */
  seen: readonly string[];
  /** Validator errors of what came out. */
  errors: number;
  /** Mended again, the bytes are the same. */
  still: boolean;
}

const judged = (facts: StockFacts, changed: boolean) =>
  judgeFindings(facts, { kind: null, credit: NO_CREDIT as never, changed, uponForm: false, pictures: [] }).filter(
    (f) => !f.code.startsWith('licence') && !f.code.startsWith('placing/'),
  );

const tools = { ...nodePictures, picture: async () => null, model: async () => null, body: bakedBody };

async function mendOnce(
  glb: Uint8Array,
  facts: StockFacts,
): Promise<{ glb: Uint8Array; facts: StockFacts; ran: string[]; moved: Matrix4 }> {
  let [bytes, known] = [glb, facts];
  const ran: string[] = [];
  const moved = new Matrix4();
  for (let round = 0; round < FIX_ROUNDS; round++) {
    const fixes = judged(known, round > 0).filter(isUnseen);
    const steps = mergeDrafts(fixes.map((f) => f.fix as StepDraft));
    if (steps.length === 0) break;
    const document = await readGlb(bytes);
    for (const s of steps) moved.premultiply((await runStep(document, s, tools)).moved);
    const made = await writeGlb(document);
    if (sha256Hex(made) === sha256Hex(bytes)) break;
    ran.push(...fixes.map((f) => f.code));
    bytes = made;
    known = await factsOf({ document: await readGlb(made), format: 'glb' }, made.byteLength, {
      issues: await validate(made, 'glb', new Map()),
    });
  }
  return { glb: bytes, facts: known, ran, moved };
}

/** @param path of a GLB without anything outside */
export async function mendAll(path: string): Promise<Mended> {
  const bytes = new Uint8Array(readFileSync(path));
  await nodeDecoders(bytes);
  const source = await readGlb(bytes);
  const glb = await writeGlb(source);
  const facts = await factsOf({ document: await readGlb(glb), format: 'glb' }, glb.byteLength, {
    issues: await validate(glb, 'glb', new Map()),
  });
  const once = await mendOnce(glb, facts);
  const twice = await mendOnce(once.glb, once.facts);
  const cache = new TextureCache(nodePictures);
  const before = makeReference(moveShape(readShape(source), once.moved), await cache.of(source), 0.5);
  const after = await readGlb(once.glb);
  const v = measureViews(before, readShape(after), await cache.of(after));
  const { length } = (await validate(once.glb, 'glb', new Map())).filter((i) => i.severity === 0);
  const unseen = judged(once.facts, true).filter((f) => f.fix && !isUnseen(f));
  return {
    ssim: v.ssimWorst,
    view: v.worstView,
    ran: [...new Set(once.ran)],
    left: unseen.map((f) => f.code),
    seen: [...SEEN_FAULTS],
    errors: length,
    still: sha256Hex(twice.glb) === sha256Hex(once.glb),
  };
}
