/** Formats other than glTF: what is checked before conversion, the converter's interface, and what is put right after it. */
import type { Accessor, Document } from '@gltf-transform/core';
import { Quaternion } from 'three';
import { applyTransform } from '../model/transform';
import { IntakeError } from './errors';
import type { FileCredit } from './facts';
import { headText, type Importer } from './importers';
import { readLicence } from './licence';
import { INTAKE_LIMITS } from './limits';
import { type Companions, type ReadGltf, readGltf } from './read';
import { firstSlot, standIn, wantedName } from './wanted';

/**
 * Turns one file of a foreign format into a GLB 2.0, in its own unit. Companions are looked up by their leaf name.
 * Rejects where it cannot read it. Supplied by the platform; it runs in a disposable process.
 */
export type Converter = (main: { name: string; bytes: Uint8Array }, companions: Companions) => Promise<Uint8Array>;

/** Decodes a picture of another kind (TGA, TIFF, GIF) and writes it as PNG. Rejects what it cannot read. */
export type PictureConverter = (bytes: Uint8Array, name: string) => Promise<Uint8Array>;

export interface ForeignRecord {
  /** Metres one unit of the file is, as its own record says; null without one. */
  unitM: number | null;
  /** That record in words. */
  says: string | null;
  credit: FileCredit;
}

const NOTHING: ForeignRecord = { unitM: null, says: null, credit: { author: '', source: '', licence: '', says: '' } };

const refuse = (code: string, message: string) => new IntakeError(code, message);
const latin = (bytes: Uint8Array) => new TextDecoder('latin1').decode(bytes);

/** Text formats that came as UTF-16 are handed on as UTF-8; a UTF-8 mark is taken off. */
export function plainText(bytes: Uint8Array): Uint8Array {
  if ((bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)) {
    const text = new TextDecoder(bytes[0] === 0xff ? 'utf-16le' : 'utf-16be').decode(bytes);
    return new TextEncoder().encode(text.replace(/encoding=(["'])utf-16\1/i, 'encoding="utf-8"'));
  }
  return bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? bytes.subarray(3) : bytes;
}

/** Binary FBX keeps properties as `S` name, `S` type, `S` label, `S` flags, then the value. */
function fbxNumber(bytes: Uint8Array, name: string): number | null {
  const key = ascii(name);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = indexOf(bytes, key, 0); at >= 0; at = indexOf(bytes, key, at + 1)) {
    if (bytes[at - 5] !== 0x53) continue; // 'S' and a length of four bytes stand before every string
    let i = at + key.length;
    for (let strings = 0; strings < 3 && bytes[i] === 0x53 && i + 5 < bytes.length; strings++) i += 5 + view.getUint32(i + 1, true);
    if (bytes[i] === 0x44 && i + 9 <= bytes.length) return view.getFloat64(i + 1, true);
    if (bytes[i] === 0x46 && i + 5 <= bytes.length) return view.getFloat32(i + 1, true);
  }
  return null;
}
const ascii = (s: string) => Uint8Array.from(s, (c) => c.charCodeAt(0));
function indexOf(bytes: Uint8Array, key: Uint8Array, from: number): number {
  for (let at = bytes.indexOf(key[0], from); at >= 0; at = bytes.indexOf(key[0], at + 1)) {
    let k = 1;
    while (k < key.length && bytes[at + k] === key[k]) k++;
    if (k === key.length) return at;
  }
  return -1;
}

/** FBX: UnitScaleFactor is centimetres a unit (*common practice*: 1 where it is missing). */
function readFbx(bytes: Uint8Array): ForeignRecord {
  if (latin(bytes.subarray(0, 18)) === 'Kaydara FBX Binary') {
    if (bytes.length < 31)
      throw refuse('fbx/truncated', `The FBX stops after ${bytes.length} bytes, inside its header. Export or copy it again.`);
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const version = view.getUint32(23, true);
    if (version < 7000 || version > 8000)
      throw refuse('fbx/version', `This is a binary FBX of version ${version}; 7000 to 7700 are read. Export it as FBX 7.4 or as glTF.`);
    const end = version >= 7500 ? Number(view.getBigUint64(27, true)) : view.getUint32(27, true);
    if (end > bytes.length)
      throw refuse(
        'fbx/truncated',
        `The FBX says its first block ends at byte ${end}, but it has ${bytes.length}. Export or copy it again.`,
      );
    return fbxUnit(fbxNumber(bytes, 'UnitScaleFactor'));
  }
  const found = latin(bytes).match(/"UnitScaleFactor"\s*,\s*"[^"]*"\s*,\s*"[^"]*"\s*(?:,\s*"[^"]*"\s*)?,\s*([-+.\deE]+)/);
  return fbxUnit(found ? Number(found[1]) : null);
}

function fbxUnit(cm: number | null): ForeignRecord {
  if (cm === null || !(cm > 0) || !Number.isFinite(cm)) return NOTHING;
  const unitM = cm / 100;
  return { ...NOTHING, unitM, says: `FBX records ${Number(cm.toPrecision(6))} cm a unit` };
}

/** COLLADA 1.4: `<unit meter>`; the converter has applied it and `<up_axis>` already. */
function readCollada(bytes: Uint8Array): ForeignRecord {
  const text = new TextDecoder().decode(bytes);
  if (!/<\/COLLADA\s*>/.test(text))
    throw refuse('collada/truncated', 'The COLLADA file stops before its end: </COLLADA> is missing. Export or copy it again.');
  // by place, and no more of it than anybody writes: a pattern that looks for an end that is not there looks again from every start
  const from = text.search(/<asset\b/);
  const to = from < 0 ? -1 : text.indexOf('</asset>', from);
  const asset = to < 0 ? '' : text.slice(from, Math.min(to, from + 20_000));
  const tag = (name: string) =>
    asset
      .match(new RegExp(`<${name}[^>]*>([\\s\\S]*?)</${name}>`))?.[1]
      .trim()
      .replace(/\s+/g, ' ') ?? '';
  const says = tag('copyright').slice(0, 500);
  const meter = Number(asset.match(/<unit\b[^>]*\bmeter\s*=\s*"([^"]+)"/)?.[1] ?? Number.NaN);
  return {
    unitM: null,
    says: meter > 0 ? `COLLADA records ${Number(meter.toPrecision(6))} m a unit` : null,
    credit: { author: tag('author').slice(0, 200), source: tag('source_data').slice(0, 500), licence: readLicence(says), says },
  };
}

/** Binary STL: 80 bytes, a count, then 50 bytes a triangle. */
function readStl(bytes: Uint8Array): ForeignRecord {
  if (/^\s*solid\b/.test(headText(bytes)) && /facet|endsolid/.test(latin(bytes.subarray(0, 4096)))) {
    if (!/endsolid/.test(latin(bytes.subarray(-200_000))))
      throw refuse('stl/truncated', 'The STL stops before its end: “endsolid” is missing. Export or copy it again.');
    return NOTHING;
  }
  if (bytes.length < 84)
    throw refuse('stl/truncated', `The STL stops after ${bytes.length} bytes, inside its header. Export or copy it again.`);
  const triangles = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(80, true);
  if (84 + triangles * 50 > bytes.length)
    throw refuse(
      'stl/truncated',
      `The STL says it has ${triangles} triangles, ${84 + triangles * 50 - bytes.length} bytes of them are missing. Export or copy it again.`,
    );
  return NOTHING;
}

/** PLY: the header says how many of what follow. */
function readPly(bytes: Uint8Array): ForeignRecord {
  const head = latin(bytes.subarray(0, 100_000));
  const end = head.search(/end_header\r?\n/);
  if (end < 0) throw refuse('ply/header', 'The PLY has no end of its header. Export it again.');
  let numbers = 0;
  for (const [, , n] of head.slice(0, end).matchAll(/element\s+(\S+)\s+(\S+)/g)) {
    if (!/^\d+$/.test(n)) throw refuse('ply/header', `The PLY’s header says “${n.slice(0, 30)}” where a count belongs. Export it again.`);
    numbers += Number(n);
  }
  // every element is at least a byte
  if (numbers > bytes.length)
    throw refuse(
      'ply/truncated',
      `The PLY says it has ${numbers} vertices and faces, but only ${bytes.length} bytes. Export or copy it again.`,
    );
  return NOTHING;
}

/** 3DS: chunks with their lengths; the first is the file. */
function read3ds(bytes: Uint8Array): ForeignRecord {
  if (bytes.length < 6) throw refuse('3ds/truncated', `The 3DS stops after ${bytes.length} bytes. Export or copy it again.`);
  const length = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(2, true);
  if (length > bytes.length)
    throw refuse(
      '3ds/truncated',
      `The 3DS says it has ${length} bytes, ${length - bytes.length} of them are missing. Export or copy it again.`,
    );
  return NOTHING;
}

const [V, F, G, O, U] = [...'vfgou'].map((c) => c.charCodeAt(0));
/** Corners are told by the gaps before them: a face of very many is cut into triangles in the square of their number. */
function checkFace(text: string, from: number, to: number): void {
  let corners = 0;
  for (let i = from + 1; i < to; i++) if (text.charCodeAt(i) > 32 && text.charCodeAt(i - 1) <= 32) corners++;
  if (corners > INTAKE_LIMITS.faceCorners)
    throw refuse(
      'obj/too-many',
      `A face of the OBJ has ${corners} corners; up to ${INTAKE_LIMITS.faceCorners} are read. Cut it in triangles.`,
    );
}

/** OBJ: it must have vertices, and be of a size that its reader copes with. */
function readObj(bytes: Uint8Array): ForeignRecord {
  const text = latin(bytes);
  let vertices = 0;
  let line = 0;
  const names = new Set<string>();
  for (let at = 0; at < text.length; ) {
    let end = text.indexOf('\n', at);
    if (end < 0) end = text.length;
    line++;
    const c = text.charCodeAt(at);
    if (c === V && text.charCodeAt(at + 1) <= 32) vertices++;
    else if (c === F) checkFace(text, at, end);
    else if (c === G || c === O || c === U) names.add(text.slice(at, Math.min(end, at + 200)));
    at = end + 1;
    if (names.size > INTAKE_LIMITS.objNames)
      throw refuse(
        'obj/too-many',
        `The OBJ has more than ${INTAKE_LIMITS.objNames} objects, groups and materials. Join what belongs together, then export it again.`,
      );
    if (line > 20e6) throw refuse('obj/too-many', 'The OBJ has more than 20 million lines. Make it smaller.');
  }
  if (vertices === 0) throw refuse('obj/empty', 'The OBJ has no vertices. Export it again.');
  return NOTHING;
}

const READERS: Partial<Record<Importer['id'], (bytes: Uint8Array) => ForeignRecord>> = {
  fbx: readFbx,
  collada: readCollada,
  stl: readStl,
  ply: readPly,
  '3ds': read3ds,
  obj: readObj,
};

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
    const text = new TextEncoder().encode(latin(json).replace(/\s+$/, ''));
    const padded = Math.ceil(text.length / 4) * 4;
    const out = new Uint8Array(20 + padded + glb.length - 20 - length).fill(0x20);
    out.set(glb.subarray(0, 20));
    out.set(text, 20);
    out.set(glb.subarray(20 + length), 20 + padded);
    const to = new DataView(out.buffer);
    to.setUint32(8, out.length, true);
    to.setUint32(12, padded, true);
    return out;
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
    throw refuse('file/too-large', `The file has ${main.bytes.byteLength} bytes; up to ${INTAKE_LIMITS.fileBytes} are read.`);
  const bytes = plainText(main.bytes);
  const record = { ...(READERS[importer.id]?.(bytes) ?? NOTHING) };
  let glb: Uint8Array;
  try {
    glb = await convert({ name: main.name, bytes }, companions);
  } catch (error) {
    if (error instanceof IntakeError) throw error;
    throw refuse(
      `${importer.id}/unreadable`,
      `The ${importer.label.split(' ')[0]} could not be read: its contents are broken or of a version that is not known (${(error as Error).message.slice(0, 120)}). Export it again, if possible as glTF.`,
    );
  }
  // no road from another format leads through a packed glTF
  const read = await readGltf(settleText(glb), {}, companions);
  tidy(read.document);
  flattenUvs(read.document);
  await settlePictures(read.document, toPng);
  if (read.document.getRoot().listMeshes().length === 0 && read.document.getRoot().listAnimations().length === 0)
    throw refuse(
      `${importer.id}/empty`,
      `The ${importer.label.split(' ')[0]} was read, but there is no shape in it. Was the selection empty when it was exported?`,
    );
  if (record.unitM !== null && record.unitM !== 1)
    applyTransform(read.document, { factor: record.unitM, turn: new Quaternion(), shiftM: [0, 0, 0] });
  return { ...read, format: importer.id as ReadGltf['format'], record };
}
