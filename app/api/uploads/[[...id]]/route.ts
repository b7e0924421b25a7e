import { receiveUpload, signedRoute } from '@/server';

/** Uploads by the tus protocol: created, sent in stretches, asked how far they are, given up. */
const handle = signedRoute<{ id?: string[] }>(async ({ request, account, params }) => receiveUpload(account.id, params.id?.[0], request));

export { handle as DELETE, handle as HEAD, handle as OPTIONS, handle as PATCH, handle as POST };
