/** Every act that has a name: what it is called, where it holds, its keys. The finder, the sheet of keys, tips and menus come from here. */

export const PLACES = {
  everywhere: 'Everywhere',
  yard: 'In the Yard',
  piece: 'In a piece',
  stock: 'In Stock',
  prepare: 'In Prepare',
  fit: 'In Fit',
  deliver: 'In Deliver',
} as const;
export type Place = keyof typeof PLACES;

export interface ActDef {
  name: string;
  where: Place;
  /** As `chordOf` writes them. */
  keys: readonly string[];
  /** The browser or a field gives these their meaning: they cannot be changed. */
  fixed?: true;
  /** Said beside the name on the sheet of keys. */
  about?: string;
  /** Holds also while one types. */
  typing?: true;
  /** Not in the finder: it needs what one points at, or is the finder. */
  unlisted?: true;
}

const define = <K extends string>(acts: Record<K, ActDef>): Record<K, ActDef> => acts;

export const ACTS = define({
  find: { name: 'Find anything', where: 'everywhere', keys: ['Ctrl+K'], typing: true, unlisted: true },
  keys: { name: 'Show all keys', where: 'everywhere', keys: ['?'] },
  theme: { name: 'Switch between chartroom (light) and nightwatch (dark)', where: 'everywhere', keys: [] },

  'new-piece': { name: 'Make a new piece', where: 'yard', keys: ['N', 'Ctrl+Enter'] },
  'new-yard': { name: 'Make a yard', where: 'yard', keys: [] },
  'rename-yard': { name: 'Rename the yard', where: 'yard', keys: [] },
  'bring-bundle': { name: 'Bring in a bundle', where: 'yard', keys: [] },
  'search-pieces': { name: 'Search the pieces', where: 'yard', keys: ['/'] },

  undo: { name: 'Undo', where: 'piece', keys: ['Ctrl+Z'] },
  redo: { name: 'Redo', where: 'piece', keys: ['Ctrl+Shift+Z', 'Ctrl+Y'] },
  'rename-piece': { name: 'Rename the piece', where: 'piece', keys: [] },
  versions: { name: 'Open Versions', where: 'piece', keys: [] },
  stock: { name: 'Go to Stock', where: 'piece', keys: ['Alt+1'], typing: true, unlisted: true },
  prepare: { name: 'Go to Prepare', where: 'piece', keys: ['Alt+2'], typing: true, unlisted: true },
  rig: { name: 'Go to Rig', where: 'piece', keys: ['Alt+3'], typing: true, unlisted: true },
  fit: { name: 'Go to Fit', where: 'piece', keys: ['Alt+4'], typing: true, unlisted: true },
  trial: { name: 'Go to Trial', where: 'piece', keys: ['Alt+5'], typing: true, unlisted: true },
  deliver: { name: 'Go to Deliver', where: 'piece', keys: ['Alt+6'], typing: true, unlisted: true },
  yard: { name: 'Back to the Yard', where: 'piece', keys: ['Alt+0'], typing: true, unlisted: true },
  'bring-files': { name: 'Bring in files', where: 'piece', keys: ['B'] },

  'delete-file': { name: 'Delete the file', where: 'stock', keys: ['Delete'] },
  'rename-file': { name: 'Rename the file', where: 'stock', keys: ['F2'] },
  'choose-files': { name: 'Choose all files', where: 'stock', keys: ['Ctrl+A'] },
  'state-kind': { name: 'Say what the file is', where: 'stock', keys: ['W'] },
  'mend-all': { name: 'Mend everything that one press mends', where: 'stock', keys: ['M'] },
  'hang-file': { name: 'Hang the file as a part', where: 'stock', keys: ['H', 'Ctrl+Enter'] },

  'find-lightest': { name: 'Search under the limit', where: 'prepare', keys: [] },
  'keep-result': { name: 'Keep this result', where: 'prepare', keys: ['Ctrl+Enter'] },

  hang: { name: 'Hang a part', where: 'fit', keys: ['H'] },
  rename: { name: 'Rename the part', where: 'fit', keys: ['F2'] },
  duplicate: { name: 'Duplicate', where: 'fit', keys: ['Ctrl+D'] },
  group: { name: 'Group', where: 'fit', keys: ['G'] },
  ungroup: { name: 'Take the group apart', where: 'fit', keys: ['Shift+G'] },
  mirror: { name: 'Bring to the other side', where: 'fit', keys: ['M'] },
  pair: { name: 'Copy to the other side', where: 'fit', keys: ['Shift+M'] },
  behind: { name: 'Put behind the wearer', where: 'fit', keys: [] },
  before: { name: 'Put before the wearer', where: 'fit', keys: [] },
  show: { name: 'Show or hide', where: 'fit', keys: ['V'] },
  lock: { name: 'Lock or unlock', where: 'fit', keys: ['K'] },
  earlier: { name: 'Draw earlier', where: 'fit', keys: ['Shift+J', 'Ctrl+ArrowUp'] },
  later: { name: 'Draw later', where: 'fit', keys: ['J', 'Ctrl+ArrowDown'] },
  unhang: { name: 'Unhang', where: 'fit', keys: [] },
  lift: { name: 'Delete the part', where: 'fit', keys: ['Delete', 'Backspace'] },
  copy: { name: 'Copy', where: 'fit', keys: ['Ctrl+C'], fixed: true },
  cut: { name: 'Cut', where: 'fit', keys: ['Ctrl+X'], fixed: true },
  paste: { name: 'Paste', where: 'piece', keys: ['Ctrl+V'], fixed: true, about: 'parts, or files and pictures from elsewhere' },
  'choose-all': { name: 'Choose all parts', where: 'fit', keys: ['Ctrl+A'] },
  'choose-none': { name: 'Choose nothing', where: 'fit', keys: ['Escape'], about: 'while one drags: put back' },
  nudge: {
    name: 'Nudge',
    where: 'fit',
    keys: ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'PageUp', 'PageDown'],
    fixed: true,
    about: 'by 1 mm, 1° or 1 %; with Shift a tenth, with Alt ten times as far',
    unlisted: true,
  },
  'hand-place': { name: 'Hand on place', where: 'fit', keys: ['P'] },
  'hand-turn': { name: 'Hand on turn', where: 'fit', keys: ['T'] },
  'hand-size': { name: 'Hand on size', where: 'fit', keys: ['Z'] },
  'show-whole': { name: 'Show the chosen part whole in the plates', where: 'fit', keys: ['W'] },
  'show-start': { name: 'Show the whole form in the plates', where: 'fit', keys: ['0'] },
  closer: { name: 'Plates closer', where: 'fit', keys: ['+'] },
  farther: { name: 'Plates farther', where: 'fit', keys: ['-'] },
  hatch: { name: 'Hatch the occluder in the plates', where: 'fit', keys: ['O'] },
  play: { name: 'Play or pause the take', where: 'fit', keys: ['Space'] },
  'pose-back': { name: 'Pose before', where: 'fit', keys: [';', ','] },
  'pose-on': { name: 'Pose after', where: 'fit', keys: ["'", '.'] },

  'deliver-glb': { name: 'Deliver the GLB', where: 'deliver', keys: ['G', 'Ctrl+Enter'] },
  'deliver-bundle': { name: 'Deliver the bundle', where: 'deliver', keys: [] },
});
export type ActId = keyof typeof ACTS;
export const ACT_IDS = Object.keys(ACTS) as ActId[];
