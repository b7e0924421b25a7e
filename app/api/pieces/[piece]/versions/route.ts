import { listVersions, requirePiece, signedRoute } from '@/server';

export const GET = signedRoute<{ piece: string }>(async ({ db, account, params }) =>
  Response.json(await listVersions(db, (await requirePiece(db, params.piece, account.id)).id)),
);
