import { expect, test } from 'vitest';
import { readRange } from './blobs';

// RFC 9110, section 14.1.2: the examples for a representation of 10 000 bytes
test.each([
  ['bytes=0-499', { start: 0, end: 499 }],
  ['bytes=500-999', { start: 500, end: 999 }],
  ['bytes=-500', { start: 9500, end: 9999 }],
  ['bytes=9500-', { start: 9500, end: 9999 }],
  ['bytes=0-99999', { start: 0, end: 9999 }],
  ['bytes=10000-', 'outside'],
  ['bytes=5-4', 'outside'],
  ['bytes=0-0,-1', null],
  ['lines=1-2', null],
  [null, null],
])('%s of 10 000 bytes', (header, want) => expect(readRange(header, 10_000)).toEqual(want));
