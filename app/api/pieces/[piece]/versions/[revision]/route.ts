import { NameVersionRequest } from '@/api';
import { answerVersion, nameVersion, notFound, readJson, requirePiece, signedRoute, unnameVersion } from '@/server';

type Params = { piece: string; revision: string };

/** @throws {HttpError} 404 what is no revision */
function revisionOf({ revision }: Params): number {
  if (!/^\d{1,9}$/.test(revision)) throw notFound('version');
  return Number(revision);
}

export const GET = signedRoute<Params>(async ({ db, account, params }) =>
  Response.json(await answerVersion(db, await requirePiece(db, params.piece, account.id), revisionOf(params))),
);

export const PUT = signedRoute<Params>(async ({ request, db, account, params }) => {
  const piece = await requirePiece(db, params.piece, account.id);
  const { name } = await readJson(request, NameVersionRequest);
  return Response.json(await nameVersion(db, piece, account.id, revisionOf(params), name));
});

export const DELETE = signedRoute<Params>(async ({ db, account, params }) => {
  const { id } = await requirePiece(db, params.piece, account.id);
  return Response.json(await unnameVersion(db, id, revisionOf(params)));
});
