/** The base body as a file that both the server's jobs and the page's threads read: made once with the build. */
import { parse, stringify } from 'devalue';
import { FORM_VERSION } from '@/core/form';
import { BODY_VERSION, type BodyBase } from '@/core/form/body';

/** What it is made of changes its name, so that nobody is given one of another day. */
export const BAKED_BODY = `body-${FORM_VERSION}-${BODY_VERSION}.gz`;

/** Text of the file, before it is packed by gzip: numbers to the last bit, lists of numbers as what they are. */
export const writeBaked = (base: BodyBase): string => stringify(base);
export const readBaked = (text: string): BodyBase => parse(text) as BodyBase;

/** Fonts that fit sheets are set in, beside it. */
export const SHEET_FONTS = { plain: 'instrument-sans-latin-400-normal.woff', strong: 'instrument-sans-latin-600-normal.woff' } as const;
