import * as z from 'zod';
import { blobSize, blobStream, coverType, done, keepCover, notFound, requirePiece, signedRoute, tagged, unchanged } from '@/server';

type Params = { piece: string };

export const GET = signedRoute<Params>(async ({ request, db, account, params }) => {
  const { cover_sha256 } = await requirePiece(db, params.piece, account.id, true);
  if (!cover_sha256) throw notFound('cover');
  const same = unchanged(request, cover_sha256);
  if (same) return same;
  const bytes = await blobSize(cover_sha256);
  return new Response(blobStream(cover_sha256), {
    headers: { 'content-type': await coverType(cover_sha256), 'content-length': String(bytes), ...tagged(cover_sha256) },
  });
});

export const PUT = signedRoute<Params>(async ({ request, db, account, params }) => {
  const { id, revision } = await requirePiece(db, params.piece, account.id);
  const shown = z.coerce.number().int().min(0).max(revision).parse(new URL(request.url).searchParams.get('revision'));
  await keepCover(db, id, shown, request);
  return done();
});
