/** A document as the bytes of one GLB, packed as its recipe says; and what a viewer gets back of it. */
import { type Accessor, type Document, Logger, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, EXTMeshoptCompression, KHRDracoMeshCompression } from '@gltf-transform/extensions';
import { cloneDocument, quantize, reorder, unpartition } from '@gltf-transform/functions';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { writeBinary } from '../model/write';
import type { QuantiseSettings, StepDraft } from '../piece/recipe';
import { tidyDocument } from './tidy';

/** Draco's modules: loaded by the platform. */
export interface DracoModules {
  encoder: unknown;
  decoder: unknown;
}
export interface Packing {
  method: 'none' | 'meshopt' | 'draco';
  quantise: QuantiseSettings | null;
  reorder: boolean;
}

/** Bits where packing asks for some and the recipe names none. */
export const USUAL_BITS: QuantiseSettings = { positionBits: 14, normalBits: 8, uvBits: 12 };

/** How the steps that are on want it packed; of each kind the last counts. */
export function packingOf(steps: readonly (StepDraft & { on?: boolean })[]): Packing {
  const out: Packing = { method: 'none', quantise: null, reorder: false };
  for (const s of steps) {
    if (s.on === false) continue;
    if (s.step === 'quantise') out.quantise = s.settings;
    if (s.step === 'compress') out.method = s.settings.method;
    if (s.step === 'reorder') out.reorder = true;
  }
  return out;
}

export const PACKING_EXTENSIONS: ReadonlySet<string> = new Set([
  'KHR_draco_mesh_compression',
  'EXT_meshopt_compression',
  'KHR_meshopt_compression',
]);

const io = (draco: DracoModules | null) =>
  new WebIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({
      'meshopt.encoder': MeshoptEncoder,
      'meshopt.decoder': MeshoptDecoder,
      ...(draco ? { 'draco3d.encoder': draco.encoder, 'draco3d.decoder': draco.decoder } : {}),
    });

/** It can be written as it stands: nothing packs it, and it has one buffer at most. */
const isPlain = (document: Document): boolean =>
  document.getRoot().listBuffers().length <= 1 &&
  !document
    .getRoot()
    .listExtensionsUsed()
    .some((e) => PACKING_EXTENSIONS.has(e.extensionName));

/** Numbers that differ by less than this share of a quantisation step are one: 2 to the power of minus so much. */
const SAME = 5;

const rounded = (a: Accessor, step: number): void => {
  const values = a.getArray();
  // + 0: minus nought is another number to the packer
  if (step > 0 && Number.isFinite(step) && values instanceof Float32Array) a.setArray(values.map((x) => Math.round(x / step) * step + 0));
};

/**
 * Rounds places and normals far more finely than they will be written, so that those which only differ by how they were computed
 * (along the seam of a ball) are the same: Draco joins what is equal before it quantises, and packs a closed surface better than one
 * with a slit.
 */
function joinEquals(document: Document, bits: QuantiseSettings): void {
  const done = new Set<Accessor>();
  const once = (list: readonly Accessor[], step: number) => {
    for (const a of list) if (!done.has(a)) rounded(a, step);
    for (const a of list) done.add(a);
  };
  for (const mesh of document.getRoot().listMeshes()) {
    const attributes = (name: string) => mesh.listPrimitives().flatMap((p) => p.getAttribute(name) ?? []);
    const places = attributes('POSITION');
    const [low, high] = [places.map((a) => a.getMin([])), places.map((a) => a.getMax([]))];
    const extents = [0, 1, 2].map((k) => Math.max(...high.map((m) => m[k])) - Math.min(...low.map((m) => m[k])));
    once(places, Math.max(...extents) / 2 ** (bits.positionBits + SAME));
    once(attributes('NORMAL'), 2 / 2 ** (bits.normalBits + SAME));
  }
}

/** Copies of one document on their way to being packed, by what was done to them: packings that follow one another share it. */
export type PackingStages = Map<string, Document>;

const copyOf = (document: Document) => cloneDocument(document).setLogger(new Logger(Logger.Verbosity.SILENT));

/** `make` done to a copy of what came before; with `stages` only once. */
async function stage(
  before: () => Promise<Document>,
  key: string,
  stages: PackingStages | undefined,
  make: (document: Document) => Promise<unknown>,
): Promise<Document> {
  const had = stages?.get(key);
  if (had) return copyOf(had);
  const document = await before();
  await make(document);
  stages?.set(key, copyOf(document));
  return document;
}

/**
 * Writes a copy of the document; the document itself stays plain.
 * @param stages of this very document, which is not changed between the calls
 */
export async function packDocument(
  source: Document,
  packing: Packing,
  draco: DracoModules | null,
  stages?: PackingStages,
): Promise<Uint8Array<ArrayBuffer>> {
  await Promise.all([MeshoptEncoder.ready, MeshoptDecoder.ready]);
  const ordered = packing.reorder || packing.method === 'meshopt';
  const numbered = packing.method !== 'draco' && (packing.quantise || packing.method === 'meshopt');
  if (isPlain(source) && packing.method === 'none' && !ordered && !numbered) return writeBinary(io(draco), source);
  const bits = packing.quantise ?? USUAL_BITS;
  const plain = async () => {
    const document = copyOf(source);
    for (const e of document.getRoot().listExtensionsUsed()) if (PACKING_EXTENSIONS.has(e.extensionName)) e.dispose();
    // what a step left over has no places, and cannot be written as whole numbers
    for (const mesh of document.getRoot().listMeshes()) {
      for (const p of mesh.listPrimitives()) if (!p.getAttribute('POSITION')) p.dispose();
      if (mesh.listPrimitives().length === 0) mesh.dispose();
    }
    return document;
  };
  const reordered = () =>
    ordered ? stage(plain, 'reorder', stages, (d) => d.transform(reorder({ encoder: MeshoptEncoder, target: 'size' }))) : plain();
  const quantised = () =>
    numbered
      ? stage(reordered, `${ordered} ${JSON.stringify(bits)}`, stages, (d) =>
          d.transform(
            quantize({
              // whole numbers come in 8 or 16 bits: fewer only leave some unused
              quantizePosition: Math.max(8, bits.positionBits),
              quantizeNormal: Math.max(8, bits.normalBits),
              quantizeTexcoord: Math.max(8, bits.uvBits),
              quantizeColor: 8,
              quantizeWeight: 8,
              cleanup: false,
            }),
          ),
        )
      : reordered();
  const document = await quantised();
  if (packing.method === 'draco') {
    if (!draco) throw new Error('no Draco encoder');
    joinEquals(document, bits);
    document
      .createExtension(KHRDracoMeshCompression)
      .setRequired(true)
      .setEncoderOptions({
        method: KHRDracoMeshCompression.EncoderMethod.EDGEBREAKER,
        encodeSpeed: 0,
        decodeSpeed: 2,
        quantizationVolume: 'mesh',
        quantizationBits: {
          POSITION: bits.positionBits,
          NORMAL: bits.normalBits,
          TEX_COORD: bits.uvBits,
          COLOR: 8,
          GENERIC: 12,
        },
      });
  } else if (packing.method === 'meshopt')
    document
      .createExtension(EXTMeshoptCompression)
      .setRequired(true)
      .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.FILTER });
  await tidyDocument(document);
  await document.transform(unpartition());
  return writeBinary(io(draco), document);
}

/** What a viewer sees of packed bytes. */
export const unpackDocument = (bytes: Uint8Array, draco: DracoModules | null): Promise<Document> =>
  io(draco).readBinary(bytes as Uint8Array<ArrayBuffer>);
