/** Turns offered for outside figures, heads and things that stand right as they came: each turned all 24 ways by quarters. */
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { Quaternion } from 'three';
import { judgeFindings, type Kind, ownCredit, QUARTER_TURNS, quarterQuaternion, type StockFacts } from '@/core/intake';
import { applyTransform } from '@/core/model/transform';
import { writeBinary } from '@/core/model/write';
import { readGlb } from '@/worker/node/codecs';
import { runIntake } from '@/worker/node/intake';
import { OUTSIDE } from './files';

/** Debian's assimp-testmodels, where they are: two people, a bull, a spider, a duck; a rabbit and a head from a package of models. */
const DEBIAN = '/usr/share/assimp/models';
const UPRIGHT: readonly (readonly [file: string, kinds: readonly Kind[]])[] = [
  [`${OUTSIDE}/made/suzi.glb`, ['fullhead', 'mask', 'figure']],
  [`${OUTSIDE}/made/bunny.glb`, ['figure', 'prop']],
  [`${DEBIAN}/X/BCN_Epileptic.X`, ['figure']],
  [`${DEBIAN}/X/anim_test.x`, ['figure']],
  [`${DEBIAN}/X/Testwuson.X`, ['figure']],
  [`${DEBIAN}/OBJ/spider.obj`, ['figure']],
  [`${DEBIAN}/Collada/duck.dae`, ['figure', 'prop']],
];
/** Of those offered, the share that may be wrong. */
const MAY_BE_WRONG = 1 / 20;

/** @returns whether more of what was offered is wrong than may be */
export async function tryTurns(): Promise<boolean> {
  const dir = mkdtempSync(join(tmpdir(), 'scaphos-turns-'));
  const io = new WebIO().registerExtensions(ALL_EXTENSIONS);
  let [asked, offered, wrong] = [0, 0, 0];
  try {
    for (const [path, kinds] of UPRIGHT.filter(([file]) => existsSync(file))) {
      const { items } = await runIntake({ files: [{ name: basename(path), path }], outDir: dir });
      const glb = new Uint8Array(readFileSync(join(dir, items[0].model as string)));
      const here = new Map(kinds.map((k) => [k, { offered: 0, wrong: 0 }]));
      for (const turn of QUARTER_TURNS) {
        const document = await readGlb(glb.slice());
        const laid = quarterQuaternion(turn);
        applyTransform(document, { factor: 1, turn: laid, shiftM: [0, 0, 0] });
        const file = join(dir, 'turned.glb');
        writeFileSync(file, await writeBinary(io, document));
        const read = await runIntake({ files: [{ name: 'turned.glb', path: file }] });
        const facts = read.items[0].facts as StockFacts;
        for (const kind of kinds) {
          asked++;
          const fix = judgeFindings(facts, { kind, credit: ownCredit(facts), changed: false, pictures: [] }).find(
            (f) => f.code === 'placing/turn',
          )?.fix;
          if (fix?.step !== 'transform') continue;
          const { yaw, pitch, roll } = fix.settings.turnDeg;
          const stands = quarterQuaternion({ yawDeg: yaw, pitchDeg: pitch, rollDeg: roll }).multiply(laid).angleTo(new Quaternion()) < 0.1;
          const row = here.get(kind) as { offered: number; wrong: number };
          row.offered++;
          if (!stands) row.wrong++;
        }
      }
      for (const [kind, row] of here) {
        console.log(`${basename(path)} as ${kind}: ${row.offered} of ${QUARTER_TURNS.length} turns offered, ${row.wrong} wrong`);
        offered += row.offered;
        wrong += row.wrong;
      }
    }
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
  console.log(`${asked} ways round asked, ${offered} turns offered, ${wrong} of them wrong.`);
  return wrong > offered * MAY_BE_WRONG;
}
