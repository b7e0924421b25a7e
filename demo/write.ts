/** `node dist/demo/write.js FOLDER`: writes the demo's models and other files, for tests and for trying things out. */
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { bellWav, flameZip, pennantPng, skyHdr, walkBvh } from './media';
import { capeGlb } from './models/cape';
import { crownGlb } from './models/crown';
import { dropGlb } from './models/drop';
import { helmetGlb } from './models/helmet';
import { lamplighterGlb } from './models/lamplighter';
import { spectaclesGlb } from './models/spectacles';

const folder = process.argv[2];
if (!folder) throw new Error('Name a folder.');
await mkdir(folder, { recursive: true });
await writeFile(join(folder, 'divers-helmet.glb'), await helmetGlb());
await writeFile(join(folder, 'tide-glass-spectacles.glb'), await spectaclesGlb());
await writeFile(join(folder, 'kelp-crown.glb'), await crownGlb());
await writeFile(join(folder, 'pearl-drop.glb'), await dropGlb());
await writeFile(join(folder, 'oilskin-cape.glb'), await capeGlb());
await writeFile(join(folder, 'lamplighter.glb'), await lamplighterGlb());
await writeFile(join(folder, 'lantern-flame.zip'), await flameZip());
await writeFile(join(folder, 'buoy-bell.wav'), bellWav());
await writeFile(join(folder, 'quay-walk.bvh'), walkBvh());
await writeFile(join(folder, 'pennant.png'), await pennantPng());
await writeFile(join(folder, 'quay-at-dawn.hdr'), skyHdr('quay-at-dawn'));
