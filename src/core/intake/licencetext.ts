/** Every licence that has a name, and reading one, and who is named, out of what a file says. Ids are SPDX's (spdx.org/licenses). */
import spdx from 'spdx-license-list/simple.js';
import type { FileCredit } from './facts';
import { OWN_WORK, UNKNOWN_LICENCE } from './licence';

/** Choices of the picker: own work and the Creative Commons set first, then every SPDX id. */
export const LICENCES: readonly { id: string; label: string }[] = [
  { id: OWN_WORK, label: 'Own work' },
  ...['CC0-1.0', 'CC-BY-4.0', 'CC-BY-SA-4.0', 'CC-BY-NC-4.0', 'CC-BY-NC-SA-4.0', 'CC-BY-ND-4.0', 'CC-BY-NC-ND-4.0'].map((id) => ({
    id,
    label: id,
  })),
  ...[...spdx]
    .filter((id) => !/^CC(0|-BY(-(NC|SA|ND|NC-SA|NC-ND))?)-(1|4)\.0$/.test(id) || ['CC-BY-1.0'].includes(id))
    .sort()
    .map((id) => ({ id, label: id })),
];
const KNOWN = new Set(LICENCES.map((l) => l.id));
export const isLicence = (id: string): boolean => id === UNKNOWN_LICENCE || KNOWN.has(id);

/** Reads a licence out of a sentence, as authors write it; empty where none is named. */
export function readLicence(text: string): string {
  const t = text.replace(/\s+/g, ' ');
  if (/\bown work\b/i.test(t)) return OWN_WORK;
  if (/\bcc[ -]?(0|zero)\b/i.test(t) || /publicdomain\/zero/i.test(t)) return 'CC0-1.0';
  const cc =
    t.match(/\bcc[ -]by((?:[ -](?:nc|nd|sa))*)(?:[ -]v?(\d\.\d))?/i) ??
    t.match(/creativecommons\.org\/licenses\/by((?:-(?:nc|nd|sa))*)\/(\d\.\d)/i);
  if (cc) {
    const id = `CC-BY${cc[1].toUpperCase().replaceAll(' ', '-')}-${cc[2] ?? '4.0'}`;
    return KNOWN.has(id) ? id : UNKNOWN_LICENCE;
  }
  for (const word of t.split(/[^A-Za-z0-9.+-]+/)) if (/[A-Z]/.test(word) && word.length > 2 && KNOWN.has(word)) return word;
  return UNKNOWN_LICENCE;
}

const text = (v: unknown): string => {
  if (typeof v === 'string') return v;
  if (Array.isArray(v)) return v.map(text).filter(Boolean).join(', ');
  if (v && typeof v === 'object') {
    const o = v as Record<string, unknown>;
    if ('@value' in o) return text(o['@value']);
    if ('@id' in o) return text(o['@id']);
    for (const key of ['@list', '@set', '@alt', 'rdf:_1', 'x-default']) if (key in o) return text(o[key]);
    return text(Object.values(o)[0]);
  }
  return '';
};

/**
 * Credit from `asset.copyright`, `asset.extras` and KHR_xmp_json_ld (dc:creator, dc:rights, dc:source, xmpRights:*).
 * @param json glTF JSON as it came
 */
export function readCredit(json: { asset?: unknown; extensions?: unknown }): FileCredit {
  const asset = (json.asset ?? {}) as Record<string, unknown>;
  const packets = ((json.extensions as Record<string, unknown> | undefined)?.KHR_xmp_json_ld as { packets?: unknown[] } | undefined)
    ?.packets;
  const packet = (Array.isArray(packets) ? packets.find((p) => p && typeof p === 'object') : undefined) as
    | Record<string, unknown>
    | undefined;
  const extras = (asset.extras ?? {}) as Record<string, unknown>;
  const copyright = text(asset.copyright);
  const pick = (...values: unknown[]) =>
    values
      .map(text)
      .find((s) => s.trim() !== '')
      ?.trim()
      .slice(0, 500) ?? '';
  const rights = [
    packet?.['dc:rights'],
    packet?.['xmpRights:UsageTerms'],
    packet?.['xmpRights:WebStatement'],
    packet?.['cc:license'],
    extras.license,
    copyright,
  ]
    .map(text)
    .filter(Boolean);
  const author = pick(packet?.['dc:creator'], extras.author, authorOf(copyright));
  return {
    author: author.slice(0, 200),
    source: pick(packet?.['dc:source'], packet?.['xmpRights:WebStatement'], extras.source),
    licence: rights.map(readLicence).find((l) => l !== UNKNOWN_LICENCE) ?? UNKNOWN_LICENCE,
    says: rights.join(' · ').slice(0, 500),
  };
}

/** The name in "© 2026 Somebody" or "Copyright 2026 by Somebody, CC BY 4.0". */
function authorOf(copyright: string): string {
  const found = copyright.match(/(?:©|\(c\)|copyright)\s*(?:\d{4}(?:\s*[-–]\s*\d{4})?)?\s*(?:by\s+)?([^.,;()\n]{2,80})/i);
  return found?.[1].trim() ?? '';
}
