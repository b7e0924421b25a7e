/** The name of an embedded colour profile. */
import type { Finding } from '../findings';

/** The description of an ICC profile, or `a profile` where it has none. (ICC.1:2022, sections 7.3, 10.15; version 2: 6.5.17.) */
export function profileName(icc: Uint8Array): string {
  const fallback = 'a profile';
  if (icc.length < 132) return fallback;
  const view = new DataView(icc.buffer, icc.byteOffset, icc.byteLength);
  const ascii = (at: number, n: number) => String.fromCharCode(...icc.subarray(at, at + n));
  const count = Math.min(100, view.getUint32(128));
  for (let i = 0; i < count && 132 + i * 12 + 12 <= icc.length; i++) {
    if (ascii(132 + i * 12, 4) !== 'desc') continue;
    const at = view.getUint32(136 + i * 12);
    if (at + 16 > icc.length) return fallback;
    const clean = (s: string) =>
      s
        .replace(/[^\x20-\x7e\u00a0-\uffff]/g, '')
        .trim()
        .slice(0, 80) || fallback;
    if (ascii(at, 4) === 'desc') return clean(ascii(at + 12, Math.min(view.getUint32(at + 8), 200, icc.length - at - 12)));
    if (ascii(at, 4) !== 'mluc' || at + 28 > icc.length) return fallback;
    const [length, offset] = [Math.min(400, view.getUint32(at + 20)), view.getUint32(at + 24)];
    return clean(new TextDecoder('utf-16be').decode(icc.subarray(at + offset, at + offset + length)));
  }
  return fallback;
}

/** A profile that says nothing else than sRGB changes no colour. */
const isPlain = (name: string) => /srgb|iec ?61966|gray gamma 2\.2|^c2$/i.test(name);

export function profileFinding(profile: string | null): Finding[] {
  if (profile === null || isPlain(profile)) return [];
  return [
    {
      code: 'picture/profile',
      level: 'warning',
      message: `Its colours are given in “${profile}”. Textures are read as sRGB, whatever the file says: they would shift.`,
      fix: {
        step: 'encode',
        settings: { format: 'png', quality: 100 },
        changes: ['Its colours are converted to sRGB once, and the profile is left out.'],
      },
    },
  ];
}
