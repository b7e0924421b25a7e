import { describe, expect, it } from 'vitest';
import { chordOf, isSingle, showChord } from './chords';

const press = (key: string, code: string, held: Partial<Record<'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey', boolean>> = {}) =>
  chordOf({ key, code, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...held });

describe('chords', () => {
  it('go by what is written on the key, on any layout', () => {
    expect(press('z', 'KeyY', { ctrlKey: true })).toBe('Ctrl+Z');
    expect(press('Z', 'KeyZ', { metaKey: true, shiftKey: true })).toBe('Ctrl+Shift+Z');
    expect(press('я', 'KeyZ', { ctrlKey: true })).toBe('Ctrl+Z');
  });
  it('a sign is the same whether Shift writes it or not', () => {
    expect(press('?', 'Minus', { shiftKey: true })).toBe('?');
    expect(press('?', 'KeyM')).toBe('?');
  });
  it('name keys that write nothing, with what is held', () => {
    expect(press('ArrowUp', 'ArrowUp', { altKey: true })).toBe('Alt+ArrowUp');
    expect(press('F2', 'F2')).toBe('F2');
    expect(press(' ', 'Space')).toBe('Space');
    expect(press('Shift', 'ShiftLeft', { shiftKey: true })).toBeNull();
  });
  it('tell those that write a sign alone', () => {
    expect(['P', '?', 'Space', 'F2', 'Ctrl+K', 'Delete'].map(isSingle)).toEqual([true, true, true, false, false, false]);
  });
  it('are shown in words', () => {
    expect(showChord('Ctrl+Shift+Z')).toBe('Ctrl Shift Z');
    expect(showChord('Alt+ArrowUp')).toBe('Alt ↑');
  });
});
