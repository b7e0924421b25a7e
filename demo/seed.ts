/** Seeds the demo: one account, its yard, two pieces. What is there already is kept: a run that was cut is finished by the next. */
import { OWN_WORK } from '@/core/intake';
import { createModelPart, createPiece, type Piece } from '@/core/piece';
import { createAccount } from '@/server/accounts';
import { takeFile } from '@/server/assets';
import { type Knex, openDatabase } from '@/server/db';
import { documentOf } from '@/server/documents';
import { insertPiece } from '@/server/pieces';
import { createYard, listYards } from '@/server/yards';
import { bellWav, flameZip, pennantPng, skyHdr, walkBvh } from './media';
import { helmetGlb } from './models/helmet';
import { spectaclesGlb } from './models/spectacles';
import { DEMO_ACCOUNT, DEMO_PIECES } from './names';

/** What lies in the helmet's stock besides it: one file of each kind. */
async function otherStock(db: Knex, yard: string): Promise<Piece['stock']> {
  const files: [string, Uint8Array][] = [
    ['lantern-flame.zip', await flameZip(16, 96, [11])],
    ['pennant.png', await pennantPng()],
    ['buoy-bell.wav', bellWav()],
    ['quay-at-dawn.hdr', skyHdr('quay-at-dawn')],
    ['quay-walk.bvh', new TextEncoder().encode(walkBvh())],
  ];
  const out: Piece['stock'] = {};
  for (const [i, [name, bytes]] of files.entries()) {
    const item = await takeFile(db, yard, name, bytes);
    out[`stock-${i + 2}`] = { ...item, id: `stock-${i + 2}`, credit: { author: DEMO_ACCOUNT.name, source: '', licence: OWN_WORK } };
  }
  return out;
}

async function seedPiece(
  db: Knex,
  yard: string,
  name: string,
  file: string,
  glb: Uint8Array,
  dress: (piece: Piece, stockId: string) => Piece,
): Promise<void> {
  const there: { document: string }[] = await db('pieces').where('yard_id', yard).select('document');
  if (there.some((row) => documentOf(row).settings.name === name)) return;
  const item = { id: 'stock-1', ...(await takeFile(db, yard, file, glb)) };
  const piece = createPiece(name);
  await insertPiece(db, yard, dress({ ...piece, stock: { [item.id]: item } }, item.id));
}

const url = process.env.SCAPHOS_DB_URL;
if (!url) throw new Error('SCAPHOS_DB_URL is not set.');
const db = openDatabase(url);
try {
  const account = (await db('accounts').where({ email: DEMO_ACCOUNT.email }).first('id')) ?? (await createAccount(db, DEMO_ACCOUNT));
  const yard = (await listYards(db, account.id))[0]?.id ?? (await createYard(db, DEMO_PIECES.yard, account.id));
  const more = await otherStock(db, yard);
  await seedPiece(db, yard, DEMO_PIECES.helmet, 'divers-helmet.glb', await helmetGlb(), (piece, stockId) => {
    const part = createModelPart('helmet', stockId, 'Diver’s helmet');
    return {
      ...piece,
      stock: { ...piece.stock, ...more },
      parts: { ...piece.parts, [part.id]: part },
      orders: { ...piece.orders, parts: [...piece.orders.parts, part.id] },
    };
  });
  // not hung yet: the file is in the wrong unit and turned round, and fitting it is the first thing to do
  await seedPiece(db, yard, DEMO_PIECES.spectacles, 'tide-glass-spectacles.glb', await spectaclesGlb(), (piece) => piece);
} finally {
  await db.destroy();
}
