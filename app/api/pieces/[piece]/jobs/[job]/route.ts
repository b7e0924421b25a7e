import { jobs, requirePiece, signedRoute } from '@/server';

type Params = { piece: string; job: string };

/** Begins a stopped or failed job again. */
export const POST = signedRoute<Params>(async ({ db, account, params }) => {
  await requirePiece(db, params.piece, account.id);
  return Response.json(await jobs().retry(params.piece, params.job));
});

/** Stops a job that waits or runs. */
export const DELETE = signedRoute<Params>(async ({ db, account, params }) => {
  await requirePiece(db, params.piece, account.id);
  return Response.json(await jobs().stop(params.piece, params.job));
});
