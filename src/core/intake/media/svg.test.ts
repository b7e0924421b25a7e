import { describe, expect, test } from 'vitest';
import { profileFinding, profileName } from './profile';
import { safeSvg, svgInPixels } from './svg';

const clean = (s: string) => safeSvg(new TextEncoder().encode(s));

describe('an SVG', () => {
  test('keeps what it draws', () => {
    const svg =
      '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"><defs><linearGradient id="a"/></defs><rect fill="url(#a)" width="4" height="4"/><use href="#b"/></svg>';
    expect(clean(svg)).toBe(svg);
  });
  test.each([
    ['a script', '<svg><script>alert(1)</script><rect/></svg>', 'script'],
    ['a script left open', '<svg><rect/><script>alert(1)</svg>', 'alert'],
    ['a handler', '<svg onload="alert(1)"><rect/></svg>', 'onload'],
    ['a foreign body', '<svg><foreignObject><body>x</body></foreignObject><rect/></svg>', 'foreignObject'],
    ['a picture elsewhere', '<svg><image xlink:href="http://x.test/a.png"/></svg>', 'x.test'],
    ['a file of the machine', '<svg><image href="file:///etc/passwd"/></svg>', 'passwd'],
    ['a style elsewhere', '<svg><style>@import "http://x.test/a.css"; a { fill: url(http://x.test/b) }</style></svg>', 'x.test'],
    ['a use elsewhere', '<svg><use href="other.svg#a"/></svg>', 'other.svg'],
    ['an entity', '<!DOCTYPE svg [<!ENTITY a "xx>x">]><svg><text>&a;</text></svg>', 'ENTITY'],
    ['a stylesheet instruction', '<?xml-stylesheet href="http://x.test/a.css"?><svg/>', 'x.test'],
  ])('loses %s', (_, svg, gone) => {
    const out = clean(svg);
    expect(out).not.toContain(gone);
    expect(out).toContain('<svg');
  });
  test('a bomb of entities multiplies nothing', () => {
    const bomb = `<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">${'bcdefghij'
      .split('')
      .map((c, i) => `<!ENTITY ${c} "${`&${'abcdefghi'[i]};`.repeat(10)}">`)
      .join('')}]><svg><text>&j;</text></svg>`;
    const out = clean(bomb);
    expect(out.length).toBeLessThan(60);
    expect(out).toContain('&amp;j;');
  });
  test('what holds no picture is refused', () => expect(() => clean('<html></html>')).toThrow(/no picture/));
});

describe('a colour profile', () => {
  /** A profile of one tag, as version 2 and version 4 write it. */
  function icc(kind: 'desc' | 'mluc', name: string): Uint8Array {
    const out = new Uint8Array(400);
    const v = new DataView(out.buffer);
    const put = (at: number, s: string) => out.set(new TextEncoder().encode(s), at);
    v.setUint32(128, 1);
    put(132, 'desc');
    v.setUint32(136, 144);
    put(144, kind);
    if (kind === 'desc') {
      v.setUint32(152, name.length + 1);
      put(156, name);
    } else {
      v.setUint32(152, 1);
      v.setUint32(164, name.length * 2);
      v.setUint32(168, 28);
      [...name].forEach((c, i) => {
        v.setUint16(172 + i * 2, c.charCodeAt(0));
      });
    }
    return out;
  }
  test('is named as it names itself, in either version', () => {
    expect(profileName(icc('desc', 'Display P3'))).toBe('Display P3');
    expect(profileName(icc('mluc', 'Wide 98'))).toBe('Wide 98');
    expect(profileName(new Uint8Array(10))).toBe('a profile');
    expect(profileName(icc('desc', 'x').fill(0xff, 128))).toBe('a profile');
  });
  test('other than sRGB it is a finding with a fix', () => {
    expect(profileFinding('Display P3')[0].fix?.step).toBe('encode');
    expect(profileFinding('sRGB IEC61966-2.1')).toEqual([]);
    expect(profileFinding(null)).toEqual([]);
  });
});

describe('a drawing in units of length', () => {
  const sized = (attributes: string) => svgInPixels(`<?x?><svg xmlns="a>b" ${attributes} viewBox="0 0 2 1"><rect width="5mm"/></svg>`);
  test.each([
    ['21cm', 210],
    ['80 mm', 80],
    ['2in', 50.8],
    ['72pt', 25.4],
    ['6pc', 25.4],
    ['40Q', 10],
  ])('%s wide', (width, mm) => expect(sized(`width="${width}" height='10mm'`).widthMm).toBeCloseTo(mm, 9));
  test('its root is in pixels of 96 an inch (CSS), what it draws stays', () => {
    const { text } = sized('width="1in" height="2.54cm"');
    expect(text).toContain('width="96" height="96"');
    expect(text).toContain('<rect width="5mm"/>');
  });
  test('pixels, shares and nothing are no length', () => {
    for (const a of ['width="40" height="20"', 'width="40px"', 'width="100%"', '']) {
      expect(sized(a).widthMm).toBeNull();
      expect(sized(a).text).toContain(a);
    }
  });
});
