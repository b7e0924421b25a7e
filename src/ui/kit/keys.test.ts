import { expect, test } from 'vitest';
import { charOf } from './keys';

test.each([
  ['QWERTY', 'z', 'KeyZ', 'z'],
  ['QWERTZ: Z lies where Y is', 'z', 'KeyY', 'z'],
  ['AZERTY: A lies where Q is', 'a', 'KeyQ', 'a'],
  ['with Shift', 'Z', 'KeyZ', 'z'],
  ['Cyrillic: by its place', 'я', 'KeyZ', 'z'],
  ['a letter of one’s own beside the Latin ones', 'ö', 'Semicolon', 'ö'],
  ['named keys', 'Escape', 'Escape', 'escape'],
])('%s', (_, key, code, char) => expect(charOf({ key, code })).toBe(char));
