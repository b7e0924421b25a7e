import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { blobsOf, licenceBlockers } from '@/core/deliver';
import {
  audit,
  callerOf,
  documentOf,
  HttpError,
  notFound,
  packageFile,
  packageName,
  requireOwnFiles,
  requirePiece,
  signedRoute,
} from '@/server';

/** Builds a package of the newest revision and hands it over as a file. */
export const GET = signedRoute<{ piece: string; kind: string }>(async ({ request, db, account, params }) => {
  const { kind } = params;
  const row = await requirePiece(db, params.piece, account.id);
  const document = documentOf(row);
  if (kind !== 'glb' && kind !== 'bundle') throw notFound('package');
  // a bundle moves work between yards; the GLB is what is published
  const blocked = kind === 'glb' ? licenceBlockers(document) : [];
  if (blocked.length > 0)
    throw new HttpError(
      422,
      'deliver/licence',
      `${blocked.map((b) => b.why).join(' ')} Say in Stock or Deliver where it came from.`,
      blocked,
    );
  await requireOwnFiles(db, row.yard_id, blobsOf(document));
  const path = await packageFile(kind, document, { yardId: row.yard_id });
  // whoever asks whether it can be had is not handed anything yet
  if (request.method !== 'HEAD')
    await audit(db, {
      what: `export/${kind}`,
      account: account.id,
      yard: row.yard_id,
      subject: `${document.settings.name}, revision ${row.revision} (${row.id})`,
      from: callerOf(request),
    });
  return new Response(Readable.toWeb(createReadStream(path)) as ReadableStream, {
    headers: {
      'content-type': kind === 'glb' ? 'model/gltf-binary' : 'application/zip',
      'content-length': String((await stat(path)).size),
      'content-disposition': `attachment; filename="${packageName(kind, document)}"`,
      'cache-control': 'no-store',
    },
  });
});
