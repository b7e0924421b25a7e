/** Run by the build: the base body on its way to a folder of files that pages ask for too. */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { BAKED_BODY } from '../baked';
import { bakeBody } from './bodybase';

const folder = process.argv[2];
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });
writeFileSync(join(folder, BAKED_BODY), bakeBody());
