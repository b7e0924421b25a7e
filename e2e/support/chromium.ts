import { existsSync } from 'node:fs';

const SHELL = '/usr/bin/chromium-headless-shell';
/** Debian's Chromium; without a window's furniture, which is a seventh of all work, where that is there. SCAPHOS_CHROMIUM names another. */
export const CHROMIUM = process.env.SCAPHOS_CHROMIUM ?? (existsSync(SHELL) ? SHELL : '/usr/bin/chromium');
