/** Who made a file, and what its licence permits. Ids are SPDX's (spdx.org/licenses), and two of our own for what has none. */
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
