/** Keys as one writes them: "Ctrl+Shift+Z", "Alt+ArrowUp", "F2", "Space", "?". By what is written on a key, not by its place. */
import { charOf } from '../kit/keys';

type Pressed = Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>;

const MODIFIERS = new Set(['Control', 'Shift', 'Alt', 'AltGraph', 'Meta', 'CapsLock', 'Dead', 'Process', 'Unidentified']);

/** What was pressed; null while only keys are held that do nothing alone. Ctrl and the Command key are one. */
export function chordOf(e: Pressed): string | null {
  if (MODIFIERS.has(e.key)) return null;
  // with Alt some layouts write other signs: digits by their place there
  const digit = e.altKey && /^Digit\d$/.test(e.code) ? e.code.slice(5) : null;
  const char = digit ?? charOf(e);
  const isLetter = char.length === 1 && char.toUpperCase() !== char;
  const name = e.key === ' ' ? 'Space' : char.length === 1 ? char.toUpperCase() : e.key;
  // Shift is part of how a sign is written, and differs from layout to layout
  const shift = e.shiftKey && (isLetter || e.key === ' ' || char.length > 1);
  return [(e.ctrlKey || e.metaKey) && 'Ctrl', e.altKey && 'Alt', shift && 'Shift', name].filter(Boolean).join('+');
}

/** Pressed alone it writes a sign: dictation or a slip may press it (WCAG 2.2, 2.1.4). */
export const isSingle = (chord: string) => chord === 'Space' || chord.length === 1;

const WORDS: Readonly<Record<string, string>> = {
  ArrowUp: '↑',
  ArrowDown: '↓',
  ArrowLeft: '←',
  ArrowRight: '→',
  Escape: 'Esc',
  PageUp: 'Page up',
  PageDown: 'Page down',
};

/** As it is shown: "Ctrl Shift Z". */
export const showChord = (chord: string): string =>
  chord
    .split('+')
    .map((k) => WORDS[k] ?? k)
    .join(' ');
