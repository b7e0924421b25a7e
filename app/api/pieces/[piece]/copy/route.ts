import { copyPiece, requirePiece, signedRoute } from '@/server';

export const POST = signedRoute<{ piece: string }>(async ({ db, account, params }) =>
  Response.json({ id: await copyPiece(db, await requirePiece(db, params.piece, account.id)) }, { status: 201 }),
);
