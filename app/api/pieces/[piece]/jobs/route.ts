import { JobRequest } from '@/api';
import { checkTarget, jobs, readJson, requirePiece, signedRoute } from '@/server';

export const GET = signedRoute<{ piece: string }>(async ({ db, account, params }) => {
  await requirePiece(db, params.piece, account.id);
  return Response.json(await jobs().list(params.piece));
});

/** Puts long work in the queue; how it goes is heard at `events`. */
export const POST = signedRoute<{ piece: string }>(async ({ request, db, account, params }) => {
  const { yard_id } = await requirePiece(db, params.piece, account.id);
  const body = await readJson(request, JobRequest);
  for (const target of body.job === 'batch' ? body.targets : [body.target]) await checkTarget(db, yard_id, target, body.steps);
  return Response.json(await jobs().add(yard_id, params.piece, body), { status: 202 });
});
