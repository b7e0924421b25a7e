/** Run by the build: the base body on its way to a file. */
import { writeFileSync } from 'node:fs';
import { bakeBody } from './bodybase';

writeFileSync(process.argv[2], bakeBody());
