/** The importer registry: what Stock accepts. The drop zone, the file picker and the command line read this one list. */
export interface Importer {
  readonly id: 'glb' | 'gltf' | 'zip';
  readonly label: string;
  readonly extensions: readonly string[];
  readonly mimeTypes: readonly string[];
  /** True where the first bytes are of this kind. */
  readonly sniff: (head: Uint8Array) => boolean;
  /** May be the one file others belong to (buffers, pictures). */
  readonly takesCompanions: boolean;
}

const startsWith = (head: Uint8Array, bytes: readonly number[]) => bytes.every((b, i) => head[i] === b);

function looksLikeJson(head: Uint8Array): boolean {
  let i = startsWith(head, [0xef, 0xbb, 0xbf]) ? 3 : 0;
  while (i < head.length && [0x20, 0x09, 0x0a, 0x0d].includes(head[i])) i++;
  return head[i] === 0x7b;
}

export const IMPORTERS: readonly Importer[] = [
  {
    id: 'glb',
    label: 'GLB',
    extensions: ['.glb'],
    mimeTypes: ['model/gltf-binary'],
    sniff: (h) => startsWith(h, [0x67, 0x6c, 0x54, 0x46]),
    takesCompanions: false,
  },
  {
    id: 'gltf',
    label: 'glTF with its files',
    extensions: ['.gltf'],
    mimeTypes: ['model/gltf+json'],
    sniff: looksLikeJson,
    takesCompanions: true,
  },
  {
    id: 'zip',
    label: 'zip of a glTF',
    extensions: ['.zip'],
    mimeTypes: ['application/zip'],
    sniff: (h) => startsWith(h, [0x50, 0x4b, 0x03, 0x04]),
    takesCompanions: false,
  },
];

/** Files that may come along with a glTF; alone they are not a model. */
export const COMPANION_EXTENSIONS = ['.bin', '.png', '.jpg', '.jpeg', '.webp', '.ktx2'] as const;

/** The importer of a file by its content, never by its name alone; null where none reads it. */
export const findImporter = (head: Uint8Array): Importer | null => IMPORTERS.find((i) => i.sniff(head)) ?? null;
