/** Who made a file and what its licence permits. Ids are SPDX's (spdx.org/licenses), and two of our own for what has none. */
import spdx from 'spdx-license-list/simple.js';
import type { FileCredit } from './facts';
import type { Finding } from './findings';

export const OWN_WORK = 'own-work';
export const UNKNOWN_LICENCE = '';

/** Credit as a stock file carries it. */
export interface Credit {
  author: string;
  source: string;
  /** SPDX id, `own-work`, or empty: unknown. */
  licence: string;
}

export interface Permits {
  publish: boolean;
  change: boolean;
  sell: boolean;
  /** The author must be named. */
  credit: boolean;
  /** What is made from it must carry the same licence. */
  sameLicence: boolean;
}

const ALL: Permits = { publish: true, change: true, sell: true, credit: false, sameLicence: false };
const NAMED: Permits = { ...ALL, credit: true };

/** The Creative Commons set by its parts (creativecommons.org/licenses, the deeds of 4.0). */
function creativeCommons(id: string): Permits | null {
  if (/^CC0-/.test(id) || id === 'CC-PDDC' || id === 'PDDL-1.0') return ALL;
  const parts = id.match(/^CC-BY((?:-(?:NC|ND|SA))*)-\d/);
  if (!parts) return null;
  const has = (p: string) => parts[1].includes(p);
  return { publish: true, change: !has('ND'), sell: !has('NC'), credit: true, sameLicence: has('SA') };
}

/** Licences that ask for nothing but the notice. */
const PERMISSIVE = new Set([
  'MIT',
  'Apache-2.0',
  'BSD-2-Clause',
  'BSD-3-Clause',
  'ISC',
  'Zlib',
  'BSL-1.0',
  'OFL-1.1',
  'X11',
  'NCSA',
  'Artistic-2.0',
]);
const FREE = new Set(['0BSD', 'Unlicense', 'WTFPL', 'MIT-0']);

/** What a licence permits; null where it is unknown, or known and not of a kind that can be told here: read it. */
export function licencePermits(id: string): Permits | null {
  if (id === OWN_WORK || FREE.has(id)) return ALL;
  if (PERMISSIVE.has(id)) return NAMED;
  return creativeCommons(id);
}

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

/** Findings about a credit. `changed`: the model has a recipe. */
export function licenceFindings(credit: Credit, changed: boolean, says = ''): Finding[] {
  const permits = licencePermits(credit.licence);
  if (credit.licence === UNKNOWN_LICENCE)
    return [
      {
        code: 'licence/unknown',
        level: 'warning',
        message: `Its licence is not known${says ? ` (the file says “${says.slice(0, 120)}”)` : ''}. It cannot be delivered until you say where it came from.`,
      },
    ];
  if (!permits)
    return [
      {
        code: 'licence/read',
        level: 'note',
        message: `What ${credit.licence} permits cannot be told here. Read it before you deliver.`,
      },
    ];
  const out: Finding[] = [];
  if (!permits.publish) out.push({ code: 'licence/forbids', level: 'warning', message: `${credit.licence} does not permit publishing.` });
  if (!permits.change && changed)
    out.push({
      code: 'licence/forbids',
      level: 'warning',
      message: `${credit.licence} permits no changes, and this file has a recipe. It cannot be delivered so.`,
    });
  if (!permits.sell)
    out.push({ code: 'licence/no-selling', level: 'note', message: `${credit.licence}: it must not be sold or used in what is sold.` });
  if (permits.sameLicence)
    out.push({ code: 'licence/same', level: 'note', message: `${credit.licence}: what is made with it must carry the same licence.` });
  if (permits.credit)
    out.push(
      credit.author
        ? { code: 'licence/credit', level: 'note', message: `${credit.author} asks to be named. Credits go along with every package.` }
        : {
            code: 'licence/author-missing',
            level: 'warning',
            message: `${credit.licence} asks for the author to be named, and no author is known.`,
          },
    );
  return out;
}

/** Whether a package with this file may be published; the reason where not. */
export function mayDeliver(name: string, credit: Credit, changed: boolean): string | null {
  const bad = licenceFindings(credit, changed).find((f) => ['licence/unknown', 'licence/forbids'].includes(f.code));
  if (!bad) return null;
  return bad.code === 'licence/unknown' ? `The licence of ${name} is not known.` : `${name}: ${bad.message}`;
}
