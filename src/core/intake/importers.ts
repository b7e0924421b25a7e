/** The importer registry: what Stock accepts. The drop zone, the file picker and the command line read this one list. */
import type { ModelFormat } from './facts';
import type { PICTURE_FORMATS } from './media/facts';

export interface Importer {
  readonly id:
    | ModelFormat
    | 'zip'
    | (typeof PICTURE_FORMATS)[number]
    | 'wav'
    | 'mp3'
    | 'ogg'
    | 'flac'
    | 'mp4'
    | 'webm'
    | 'hdr'
    | 'exr'
    | 'bvh';
  /**
   * `gltf`: read here. `foreign`: through the converter. `archive`: looked into. The rest are no models; `moving`: sound or
   * footage, which its tracks decide.
   */
  readonly road: 'gltf' | 'foreign' | 'archive' | 'picture' | 'sound' | 'moving' | 'environment' | 'motion';
  readonly label: string;
  readonly extensions: readonly string[];
  /** True where the first bytes (up to 4 kB) are of this kind; the name decides only where bytes cannot. */
  readonly sniff: (head: Uint8Array, name: string) => boolean;
  /** May be the one file others belong to (buffers, pictures, materials). */
  readonly takesCompanions: boolean;
  /** What the format has no word for; null where it has one for everything. */
  readonly cannotCarry: string | null;
}

const startsWith = (head: Uint8Array, bytes: readonly number[]) => bytes.every((b, i) => head[i] === b);
const ascii = (s: string) => [...s].map((c) => c.charCodeAt(0));

/** The head as text; UTF-16 with a mark is read as such. */
export function headText(head: Uint8Array): string {
  const kind = startsWith(head, [0xff, 0xfe]) ? 'utf-16le' : startsWith(head, [0xfe, 0xff]) ? 'utf-16be' : 'utf-8';
  return new TextDecoder(kind).decode(head.subarray(0, 4096));
}

const ended = (name: string, ...ends: string[]) => ends.some((e) => name.toLowerCase().endsWith(e));
const looksLikeJson = (head: Uint8Array) => /^\s*\{/.test(headText(head));
const printable = (text: string) => !text.slice(0, 400).includes('\0');

/** Lines an OBJ begins with. A file of comments only is told by its name. */
function looksLikeObj(head: Uint8Array, name: string): boolean {
  const text = headText(head);
  if (!printable(text)) return false;
  const lines = text.split(/\r?\n|\r/).filter((l) => l.trim() && !l.trim().startsWith('#'));
  const first = lines[0]?.trim() ?? '';
  if (/^(v|vn|vt|vp)\s+[-+.\d]/.test(first) || /^mtllib\s+\S/.test(first)) return true;
  return ended(name, '.obj') && (first === '' || /^(o|g|s|usemtl|f|l|p|call|csh|mg)\b/.test(first));
}

/** What stands after the length of the first box of an ISO base media file. */
const boxName = (head: Uint8Array) => String.fromCharCode(...head.subarray(4, 12));

const media = (
  id: Importer['id'],
  road: Importer['road'],
  label: string,
  extensions: readonly string[],
  sniff: Importer['sniff'],
): Importer => ({ id, road, label, extensions, sniff, takesCompanions: false, cannotCarry: null });

const NO_MOTION = 'no bones, weights or clips';

export const IMPORTERS: readonly Importer[] = [
  {
    id: 'glb',
    road: 'gltf',
    label: 'GLB',
    extensions: ['.glb'],
    sniff: (h) => startsWith(h, ascii('glTF')),
    takesCompanions: false,
    cannotCarry: null,
  },
  {
    id: 'gltf',
    road: 'gltf',
    label: 'glTF with its files',
    extensions: ['.gltf'],
    sniff: (h) => looksLikeJson(h),
    takesCompanions: true,
    cannotCarry: null,
  },
  {
    id: 'fbx',
    road: 'foreign',
    label: 'FBX',
    extensions: ['.fbx'],
    sniff: (h) =>
      startsWith(h, ascii('Kaydara FBX Binary')) || (printable(headText(h)) && /^\s*;\s*FBX|FBXHeaderExtension\s*:/.test(headText(h))),
    takesCompanions: true,
    cannotCarry: null,
  },
  {
    id: 'obj',
    road: 'foreign',
    label: 'OBJ with its MTL',
    extensions: ['.obj'],
    sniff: looksLikeObj,
    takesCompanions: true,
    cannotCarry: `OBJ has no unit, ${NO_MOTION}; its materials know no roughness and metal.`,
  },
  {
    id: 'collada',
    road: 'foreign',
    label: 'COLLADA',
    extensions: ['.dae'],
    sniff: (h) => /<COLLADA[\s>]/.test(headText(h)),
    takesCompanions: true,
    cannotCarry: 'COLLADA’s materials know no roughness and metal.',
  },
  {
    id: 'ply',
    road: 'foreign',
    label: 'PLY',
    extensions: ['.ply'],
    sniff: (h) => /^ply\r?\n/.test(headText(h.subarray(0, 8))),
    takesCompanions: true,
    cannotCarry: `PLY has no unit, no materials, ${NO_MOTION}.`,
  },
  {
    id: '3ds',
    road: 'foreign',
    label: '3DS',
    extensions: ['.3ds'],
    sniff: (h, name) => startsWith(h, [0x4d, 0x4d]) && ended(name, '.3ds', '.prj'),
    takesCompanions: true,
    cannotCarry: '3DS has no bones or weights, and names of up to 12 letters.',
  },
  {
    id: 'off',
    road: 'foreign',
    label: 'OFF',
    extensions: ['.off'],
    sniff: (h) => /^(C|N|ST)*OFF\s/.test(headText(h.subarray(0, 16))),
    takesCompanions: false,
    cannotCarry: `OFF has no unit, no UVs, no materials, ${NO_MOTION}.`,
  },
  {
    id: 'x',
    road: 'foreign',
    label: 'X',
    extensions: ['.x'],
    sniff: (h) => startsWith(h, ascii('xof ')),
    takesCompanions: true,
    cannotCarry: 'X has no unit; its materials know no roughness and metal.',
  },
  media('png', 'picture', 'PNG', ['.png', '.apng'], (h) => startsWith(h, [0x89, 0x50, 0x4e, 0x47])),
  media('jpeg', 'picture', 'JPEG', ['.jpg', '.jpeg'], (h) => startsWith(h, [0xff, 0xd8, 0xff])),
  media('webp', 'picture', 'WebP', ['.webp'], (h) => startsWith(h, ascii('RIFF')) && startsWith(h.subarray(8), ascii('WEBP'))),
  media('avif', 'picture', 'AVIF', ['.avif'], (h) => /^ftyp(avif|avis|mif1)/.test(boxName(h))),
  media('gif', 'picture', 'GIF', ['.gif'], (h) => startsWith(h, ascii('GIF8'))),
  media('tiff', 'picture', 'TIFF', ['.tif', '.tiff'], (h) => startsWith(h, [0x49, 0x49, 0x2a, 0]) || startsWith(h, [0x4d, 0x4d, 0, 0x2a])),
  media('psd', 'picture', 'PSD, flat', ['.psd'], (h) => startsWith(h, ascii('8BPS'))),
  media(
    'svg',
    'picture',
    'SVG',
    ['.svg'],
    (h, name) => /<(\w+:)?svg[\s>]/.test(headText(h)) || (ended(name, '.svg') && /^\s*</.test(headText(h))),
  ),
  media('bmp', 'picture', 'BMP', ['.bmp'], (h) => startsWith(h, ascii('BM')) && h.length > 26 && h[6] === 0 && h[7] === 0),
  media('dds', 'picture', 'DDS', ['.dds'], (h) => startsWith(h, ascii('DDS '))),
  media('tga', 'picture', 'TGA', ['.tga'], (h, name) => ended(name, '.tga') && h.length > 18),
  media('wav', 'sound', 'WAV', ['.wav'], (h) => startsWith(h, ascii('RIFF')) && startsWith(h.subarray(8), ascii('WAVE'))),
  media('ogg', 'sound', 'OGG', ['.ogg', '.oga'], (h) => startsWith(h, ascii('OggS'))),
  media('flac', 'sound', 'FLAC', ['.flac'], (h) => startsWith(h, ascii('fLaC'))),
  media('mp4', 'moving', 'MP4, M4A', ['.mp4', '.m4a', '.m4v', '.mov'], (h) => /^ftyp/.test(boxName(h))),
  media('webm', 'moving', 'WebM', ['.webm'], (h) => startsWith(h, [0x1a, 0x45, 0xdf, 0xa3])),
  media(
    'mp3',
    'sound',
    'MP3',
    ['.mp3'],
    (h, name) => startsWith(h, ascii('ID3')) || (h[0] === 0xff && (h[1] & 0xe6) === 0xe2 && ended(name, '.mp3')),
  ),
  media('hdr', 'environment', 'HDR', ['.hdr'], (h) => /^#\?(RADIANCE|RGBE)/.test(headText(h.subarray(0, 16)))),
  media('exr', 'environment', 'EXR', ['.exr'], (h) => startsWith(h, [0x76, 0x2f, 0x31, 0x01])),
  media('bvh', 'motion', 'BVH', ['.bvh'], (h) => /^\s*HIERARCHY\b/i.test(headText(h))),
  {
    id: 'zip',
    road: 'archive',
    label: 'zip of any of these',
    extensions: ['.zip'],
    sniff: (h) => startsWith(h, [0x50, 0x4b, 0x03, 0x04]) || startsWith(h, [0x50, 0x4b, 0x05, 0x06]),
    takesCompanions: false,
    cannotCarry: null,
  },
  {
    // last: a binary STL has no mark of its own
    id: 'stl',
    road: 'foreign',
    label: 'STL',
    extensions: ['.stl'],
    sniff: (h, name) => ended(name, '.stl') || /^\s*solid\b[^\n]*\n\s*facet\s+normal/.test(headText(h)),
    takesCompanions: false,
    cannotCarry: `STL has no unit, no UVs, no materials, ${NO_MOTION}.`,
  },
];

/** Files that may come along with a model; alone they are not one. */
export const COMPANION_EXTENSIONS = [
  '.bin',
  '.mtl',
  '.png',
  '.jpg',
  '.jpeg',
  '.webp',
  '.ktx2',
  '.tga',
  '.bmp',
  '.tif',
  '.tiff',
  '.gif',
  '.dds',
] as const;

/** The importer of a file, by its content and, where content cannot tell, its name; null where none reads it. */
export const findImporter = (head: Uint8Array, name = ''): Importer | null => IMPORTERS.find((i) => i.sniff(head, name)) ?? null;

/** Every ending there is a reader for. */
export const MODEL_EXTENSIONS: readonly string[] = IMPORTERS.filter((i) => i.road === 'gltf' || i.road === 'foreign').flatMap(
  (i) => i.extensions,
);
