/** The character a key means, as its layout has it; on layouts without Latin letters, by the key's place. */
export const charOf = (e: Pick<KeyboardEvent, 'key' | 'code'>): string =>
  e.key.length === 1 && e.key > '\x7e' && e.code.startsWith('Key') ? e.code.slice(3).toLowerCase() : e.key.toLowerCase();
