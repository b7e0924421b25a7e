/** What a foreign format's own header tells before it is converted: its unit, its author, and whether the file is whole. */
import { holdsNothing, IntakeError } from './errors';
import type { FileCredit } from './facts';
import { headText, type Importer } from './importers';
import { readLicence } from './licencetext';
import { INTAKE_LIMITS } from './limits';

export interface ForeignRecord {
  /** Metres one unit of the file is, as its own record says; null without one. */
  unitM: number | null;
  /** That record in words. */
  says: string | null;
  credit: FileCredit;
}

const NOTHING: ForeignRecord = { unitM: null, says: null, credit: { author: '', source: '', licence: '', says: '' } };

const refuse = (code: string, message: string) => new IntakeError(code, message);
export const latin = (bytes: Uint8Array) => new TextDecoder('latin1').decode(bytes);

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

/** Whether a COLLADA file has anything to be drawn (COLLADA 1.4.1, `<geometry>`). */
export const hasGeometry = (bytes: Uint8Array): boolean => /<(?:\w+:)?geometry\b/.test(new TextDecoder().decode(bytes));

/** Binary STL: 80 bytes, a count, then 50 bytes a triangle. */
function readStl(bytes: Uint8Array): ForeignRecord {
  if (/^\s*solid\b/.test(headText(bytes)) && /facet|endsolid/.test(latin(bytes.subarray(0, 4096)))) {
    if (!/endsolid/.test(latin(bytes.subarray(-200_000))))
      throw refuse('stl/truncated', 'The STL stops before its end: “endsolid” is missing. Export or copy it again.');
    if (!/\bfacet\b/.test(latin(bytes))) throw holdsNothing('stl', 'STL');
    return NOTHING;
  }
  if (bytes.length < 84)
    throw refuse('stl/truncated', `The STL stops after ${bytes.length} bytes, inside its header. Export or copy it again.`);
  const triangles = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(80, true);
  if (triangles === 0) throw holdsNothing('stl', 'STL');
  if (84 + triangles * 50 > bytes.length)
    throw refuse(
      'stl/truncated',
      `The STL says it has ${triangles} triangles, ${84 + triangles * 50 - bytes.length} bytes of them are missing. Export or copy it again.`,
    );
  return NOTHING;
}

/** Lines of a PLY's header that say what follows (Turk 1994); anything else is passed over, as its reader does. */
const PLY_LINE = /^(element\s+\S+\s+\S+|property\s+(list\s+\w+\s+\w+|\w+)\s+\S+)$/;

/** How many words, parted by white space, follow in a text. */
function words(bytes: Uint8Array, from: number): number {
  let n = 0;
  for (let i = from, within = false; i < bytes.length; i++) {
    const black = bytes[i] > 32;
    if (black && !within) n++;
    within = black;
  }
  return n;
}

/** PLY: the header says how many of what follow. */
function readPly(bytes: Uint8Array): ForeignRecord {
  const head = latin(bytes.subarray(0, 100_000));
  const end = head.search(/^end_header\r?$/m);
  if (end < 0) throw refuse('ply/header', 'The PLY has no end of its header. Export it again.');
  // on a line that is none its reader waits for ever
  const strange = head
    .slice(0, end)
    .split('\n')
    .find((l) => /^(element|property)/.test(l) && !PLY_LINE.test(l.trim()));
  if (strange !== undefined)
    throw refuse('ply/header', `The PLY’s header has a line that is none: “${strange.trim().slice(0, 60)}”. Export it again.`);
  let [numbers, values, count] = [0, 0, 0];
  for (const line of head.slice(0, end).split('\n')) {
    const [what, name, n] = line.trim().split(/\s+/);
    // a list that is empty still says so: a value for each property at least
    if (what === 'property') values += count;
    if (what !== 'element') continue;
    if (!/^\d+$/.test(n)) throw refuse('ply/header', `The PLY’s header says “${n.slice(0, 30)}” where a count belongs. Export it again.`);
    count = Number(n);
    if (name === 'vertex' && count === 0) throw holdsNothing('ply', 'PLY');
    numbers += count;
  }
  // every element is at least a byte
  if (numbers > bytes.length)
    throw refuse(
      'ply/truncated',
      `The PLY says it has ${numbers} vertices and faces, but only ${bytes.length} bytes. Export or copy it again.`,
    );
  if (/^format\s+ascii/m.test(head.slice(0, end))) {
    const there = words(bytes, end) - 1;
    if (there < values)
      throw refuse(
        'ply/truncated',
        `The PLY says it has ${numbers} vertices and faces, which take ${values} numbers or more, but it has only ${there}. Export or copy it again.`,
      );
  }
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

/** @throws {IntakeError} broken in a way that its header tells */
export const readHead = (id: Importer['id'], bytes: Uint8Array): ForeignRecord => READERS[id]?.(bytes) ?? NOTHING;
