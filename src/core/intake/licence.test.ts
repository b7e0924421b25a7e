import { describe, expect, test } from 'vitest';
import { isLicence, LICENCES, licencePermits, mayDeliver, readCredit, readLicence } from './index';

/** What each of the Creative Commons set permits: publish, change, sell, credit, same licence (deeds at creativecommons.org/licenses). */
const DEEDS: [string, boolean, boolean, boolean, boolean, boolean][] = [
  ['CC0-1.0', true, true, true, false, false],
  ['CC-BY-4.0', true, true, true, true, false],
  ['CC-BY-SA-4.0', true, true, true, true, true],
  ['CC-BY-NC-4.0', true, true, false, true, false],
  ['CC-BY-NC-SA-4.0', true, true, false, true, true],
  ['CC-BY-ND-4.0', true, false, true, true, false],
  ['CC-BY-NC-ND-4.0', true, false, false, true, false],
];

describe('licencePermits', () => {
  test.each(DEEDS)('%s', (id, publish, change, sell, credit, sameLicence) =>
    expect(licencePermits(id)).toEqual({ publish, change, sell, credit, sameLicence }),
  );
  test('own work permits all; MIT asks for its notice; others are to be read; unknown permits nothing to be said', () => {
    expect(licencePermits('own-work')).toMatchObject({ sell: true, credit: false });
    expect(licencePermits('MIT')).toMatchObject({ sell: true, credit: true });
    expect(licencePermits('GPL-3.0-only')).toBeNull();
    expect(licencePermits('')).toBeNull();
  });
  test('the list has every id once, own work first, the Creative Commons set next', () => {
    const ids = LICENCES.map((l) => l.id);
    expect(new Set(ids).size).toBe(ids.length);
    expect(ids.slice(0, 3)).toEqual(['own-work', 'CC0-1.0', 'CC-BY-4.0']);
    expect(ids.length).toBeGreaterThan(400);
    expect([isLicence('CC-BY-4.0'), isLicence(''), isLicence('free for all')]).toEqual([true, true, false]);
  });
});

describe('readLicence', () => {
  test.each([
    ['© 2026 Ada Reed, CC BY 4.0', 'CC-BY-4.0'],
    ['Licensed under CC BY-NC-SA 3.0', 'CC-BY-NC-SA-3.0'],
    ['cc-by-nd', 'CC-BY-ND-4.0'],
    ['https://creativecommons.org/licenses/by-sa/4.0/', 'CC-BY-SA-4.0'],
    ['CC0', 'CC0-1.0'],
    ['https://creativecommons.org/publicdomain/zero/1.0/', 'CC0-1.0'],
    ['Made for the regatta; own work', 'own-work'],
    ['SPDX: Apache-2.0', 'Apache-2.0'],
    ['Copyright 2020, all rights reserved', ''],
    ['', ''],
  ])('%s → %s', (text, id) => expect(readLicence(text)).toBe(id));
});

describe('readCredit', () => {
  test('asset.copyright alone: author and licence', () =>
    expect(readCredit({ asset: { copyright: '© 2026 Ada Reed, CC BY 4.0' } })).toEqual({
      author: 'Ada Reed',
      source: '',
      licence: 'CC-BY-4.0',
      says: '© 2026 Ada Reed, CC BY 4.0',
    }));
  test('KHR_xmp_json_ld goes before it, in any of its shapes', () =>
    expect(
      readCredit({
        asset: { copyright: 'Somebody else' },
        extensions: {
          KHR_xmp_json_ld: {
            packets: [
              {
                'dc:creator': { '@list': ['Ada Reed', 'Tom Wick'] },
                'dc:rights': { '@type': 'rdf:Alt', 'rdf:_1': { '@value': 'CC BY-SA 4.0' } },
                'dc:source': 'https://quay.example/crown',
              },
            ],
          },
        },
      }),
    ).toMatchObject({ author: 'Ada Reed, Tom Wick', licence: 'CC-BY-SA-4.0', source: 'https://quay.example/crown' }));
  test('nothing, and nonsense, give nothing', () => {
    const none = { author: '', source: '', licence: '', says: '' };
    expect(readCredit({})).toEqual(none);
    expect(readCredit({ asset: 3, extensions: { KHR_xmp_json_ld: { packets: 'x' } } })).toEqual(none);
    expect(readCredit({ asset: { copyright: 7 } })).toEqual(none);
  });
});

describe('mayDeliver', () => {
  const credit = (licence: string) => ({ author: 'Ada Reed', source: '', licence });
  test('unknown: no; own work: yes; no changes permitted: only as it came', () => {
    expect(mayDeliver('crown.glb', credit(''), false)).toBe('The licence of crown.glb is not known.');
    expect(mayDeliver('crown.glb', credit('own-work'), true)).toBeNull();
    expect(mayDeliver('crown.glb', credit('CC-BY-ND-4.0'), false)).toBeNull();
    expect(mayDeliver('crown.glb', credit('CC-BY-ND-4.0'), true)).toContain('permits no changes');
  });
});
