/** Formats other than glTF: the converter's interface, and what is put right before and after it. */
import type { Accessor, Document } from '@gltf-transform/core';
import { weld } from '@gltf-transform/functions';
import { Quaternion } from 'three';
import { readModel } from '../model/model';
import { applyTransform } from '../model/transform';
import { withJson } from '../model/write';
import { needlessSides } from './check/materials';
import { holdsNothing, IntakeError } from './errors';
import { type ForeignRecord, hasGeometry, latin, readHead } from './foreignheads';
import type { Importer } from './importers';
import { INTAKE_LIMITS } from './limits';
import { type Companions, type ReadGltf, readGltf } from './read';
import { settleOff, settlePly } from './settle';
import { firstSlot, standIn, wantedName } from './wanted';

/**
 * Turns one file of a foreign format into a GLB 2.0, in its own unit. Companions are looked up by their leaf name.
 * Rejects where it cannot read it. Supplied by the platform; it runs in a disposable process.
 */
export type Converter = (main: { name: string; bytes: Uint8Array }, companions: Companions) => Promise<Uint8Array>;

/** Decodes a picture of another kind (TGA, TIFF, GIF) and writes it as PNG. Rejects what it cannot read. */
export type PictureConverter = (bytes: Uint8Array, name: string) => Promise<Uint8Array>;

/** Text formats that came as UTF-16 are handed on as UTF-8; a UTF-8 mark is taken off. */
export function plainText(bytes: Uint8Array): Uint8Array {
  if ((bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)) {
    const text = new TextDecoder(bytes[0] === 0xff ? 'utf-16le' : 'utf-16be').decode(bytes);
    return new TextEncoder().encode(text.replace(/encoding=(["'])utf-16\1/i, 'encoding="utf-8"'));
  }
  return bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? bytes.subarray(3) : bytes;
}

/** In the words its reader knows; and how many triangles it must come to, where that was counted. */
function settled(id: Importer['id'], bytes: Uint8Array): { bytes: Uint8Array; triangles: number | null } {
  if (id === 'off') return settleOff(bytes);
  return { bytes: id === 'ply' ? settlePly(bytes) : bytes, triangles: null };
}

const drawnTriangles = (document: Document): number =>
  document
    .getRoot()
    .listMeshes()
    .flatMap((m) => m.listPrimitives())
    .reduce((n, p) => n + Math.floor(((p.getIndices() ?? p.getAttribute('POSITION'))?.getCount() ?? 0) / 3), 0);

/** Names in files are in any encoding; the converter copies their bytes, and JSON must be UTF-8. */
function settleText(glb: Uint8Array): Uint8Array {
  const view = new DataView(glb.buffer, glb.byteOffset, glb.byteLength);
  if (glb.length < 20) return glb;
  const length = view.getUint32(12, true);
  const json = glb.subarray(20, 20 + length);
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(json);
    return glb;
  } catch {
    return withJson(glb, new TextEncoder().encode(latin(json).replace(/\s+$/, '')));
  }
}

/** What the converter writes on every material, needed or not: out where it says no more than the default. */
function tidy(document: Document): void {
  const root = document.getRoot();
  for (const m of root.listMaterials()) {
    const volume = m.getExtension('KHR_materials_volume') as { getThicknessFactor(): number } | null;
    if (volume && !(volume.getThicknessFactor() > 0)) m.setExtension('KHR_materials_volume', null);
    const ior = m.getExtension('KHR_materials_ior') as { getIOR(): number } | null;
    if (ior && !(ior.getIOR() >= 1 && Math.abs(ior.getIOR() - 1.5) > 1e-3)) m.setExtension('KHR_materials_ior', null);
  }
  // a stand-in of the converter's own that nothing wears
  for (const m of root.listMaterials()) if (m.listParents().every((p) => p.propertyType === 'Root')) m.dispose();
  for (const e of root.listExtensionsUsed())
    if (e.extensionName.startsWith('KHR_materials_') && !root.listMaterials().some((m) => m.getExtension(e.extensionName))) e.dispose();
  root.getAsset().generator = 'Scaphos';
  delete root.getAsset().copyright;
}

/** Formats without materials: the one they get is the converter's. */
const BARE: ReadonlySet<Importer['id']> = new Set(['off', 'ply', 'stl']);

/**
 * What conversion alone did to shapes is undone, so that it is not told as the file's fault: corners come apart one by one and are
 * joined where they are equal; a stand-in material shows both sides only where a shape is open.
 */
async function settleShapes(document: Document, id: Importer['id'], drawn: boolean): Promise<void> {
  // what a broken file leaves, indices of nothing; and what the converter puts where a file has bones but nothing to be drawn
  for (const mesh of document.getRoot().listMeshes()) {
    for (const p of mesh.listPrimitives()) if (!drawn || !p.getAttribute('POSITION')) p.dispose();
    if (mesh.listPrimitives().length === 0) mesh.dispose();
  }
  await document.transform(weld());
  if (!BARE.has(id)) return;
  for (const m of needlessSides({ document, model: readModel(document) })) m.setDoubleSided(false);
}

/** UVs of three numbers, as OBJ and COLLADA may have them: glTF has two, so the third goes. */
function flattenUvs(document: Document): void {
  const done = new Set<Accessor>();
  for (const mesh of document.getRoot().listMeshes())
    for (const p of mesh.listPrimitives())
      for (const name of p.listSemantics()) {
        const uv = name.startsWith('TEXCOORD_') ? p.getAttribute(name) : null;
        if (!uv || uv.getElementSize() === 2 || done.has(uv)) continue;
        done.add(uv);
        const flat = new Float32Array(uv.getCount() * 2);
        const row: number[] = [];
        for (let i = 0; i < uv.getCount(); i++) flat.set(uv.getElement(i, row).slice(0, 2), i * 2);
        uv.setType('VEC2').setArray(flat);
      }
}

/** PNG, JPEG or WebP by their first bytes; null: of another kind. */
export function sniffPicture(b: Uint8Array): string | null {
  if (b[0] === 0x89 && b[1] === 0x50 && b[2] === 0x4e) return 'image/png';
  if (b[0] === 0xff && b[1] === 0xd8) return 'image/jpeg';
  if (b[0] === 0x52 && b[1] === 0x49 && b[8] === 0x57 && b[9] === 0x45) return 'image/webp';
  return null;
}

/** Pictures of kinds glTF does not know become PNG; what cannot be read is wanted. */
async function settlePictures(document: Document, toPng: PictureConverter): Promise<void> {
  for (const [i, t] of document.getRoot().listTextures().entries()) {
    const bytes = t.getImage();
    if (!bytes || wantedName(t) !== null) continue;
    const name = t.getURI() || t.getName() || `picture ${i}`;
    const mime = sniffPicture(bytes);
    if (mime) {
      t.setMimeType(mime);
      continue;
    }
    const png = await toPng(bytes, name).catch(() => null);
    if (png) t.setImage(png as Uint8Array<ArrayBuffer>).setMimeType('image/png');
    else standIn(t, name, firstSlot(document, t));
  }
}

/**
 * Reads a file of a foreign format.
 * @throws {IntakeError} broken in a way its own header tells, or not readable by the converter.
 */
export async function readForeign(
  importer: Importer,
  main: { name: string; bytes: Uint8Array },
  companions: Companions,
  convert: Converter,
  toPng: PictureConverter,
): Promise<ReadGltf & { record: ForeignRecord }> {
  if (main.bytes.byteLength > INTAKE_LIMITS.fileBytes)
    throw new IntakeError('file/too-large', `The file has ${main.bytes.byteLength} bytes; up to ${INTAKE_LIMITS.fileBytes} are read.`);
  const { bytes, triangles } = settled(importer.id, plainText(main.bytes));
  const record = readHead(importer.id, bytes);
  let glb: Uint8Array;
  try {
    glb = await convert({ name: main.name, bytes }, companions);
  } catch (error) {
    if (error instanceof IntakeError) throw error;
    throw new IntakeError(
      `${importer.id}/unreadable`,
      `The ${importer.label.split(' ')[0]} could not be read: its contents are broken or of a version that is not known (${(error as Error).message.slice(0, 120)}). Export it again, if possible as glTF.`,
    );
  }
  // no road from another format leads through a packed glTF
  const read = await readGltf(settleText(glb), {}, companions);
  tidy(read.document);
  flattenUvs(read.document);
  await settleShapes(read.document, importer.id, importer.id !== 'collada' || hasGeometry(bytes));
  await settlePictures(read.document, toPng);
  if (read.document.getRoot().listMeshes().length === 0 && read.document.getRoot().listAnimations().length === 0)
    throw holdsNothing(importer.id, importer.label.split(' ')[0]);
  if (triangles !== null && drawnTriangles(read.document) < triangles)
    throw new IntakeError(
      `${importer.id}/lost`,
      `Of ${triangles} triangles in the ${importer.label.split(' ')[0]} only ${drawnTriangles(read.document)} could be read. Export it again, if possible as glTF.`,
    );
  if (record.unitM !== null && record.unitM !== 1)
    applyTransform(read.document, { factor: record.unitM, turn: new Quaternion(), shiftM: [0, 0, 0] });
  return { ...read, format: importer.id as ReadGltf['format'], record };
}
