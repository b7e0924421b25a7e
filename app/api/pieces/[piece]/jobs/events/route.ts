import { jobs, onSessionEnd, onStop, requirePiece, sessionAccount, sessionToken, signedRoute } from '@/server';

export const dynamic = 'force-dynamic';
/** A line now and then keeps proxies from closing what seems idle. */
const BEAT_MS = 15_000;

/** Every job of the piece as it is, `told` once that is all, then every change, as server-sent events (WHATWG HTML, section 9.2). */
export const GET = signedRoute<{ piece: string }>(async ({ request, db, account, params }) => {
  await requirePiece(db, params.piece, account.id);
  const token = (await sessionToken()) as string;
  const text = new TextEncoder();
  let close: () => void = () => undefined;
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const send = (line: string) => {
        try {
          controller.enqueue(text.encode(line));
        } catch {
          close();
        }
      };
      const deaf = jobs().listen(params.piece, (job) => send(`data: ${JSON.stringify(job)}\n\n`));
      // what belongs to a session ends with it, however that ends
      const beat = setInterval(async () => {
        if (await sessionAccount(db, token).catch(() => account)) send(': still here\n\n');
        else close();
      }, BEAT_MS);
      const sessionGoesOn = onSessionEnd(token, () => close());
      const serverGoesOn = onStop(() => close());
      close = () => {
        deaf();
        sessionGoesOn();
        serverGoesOn();
        clearInterval(beat);
        try {
          controller.close();
        } catch {
          // whoever listened has gone
        }
      };
      request.signal.addEventListener('abort', () => close());
      for (const job of await jobs().list(params.piece)) send(`data: ${JSON.stringify(job)}\n\n`);
      send('event: told\ndata: {}\n\n');
    },
    cancel: () => close(),
  });
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream; charset=utf-8', 'cache-control': 'no-store, no-transform', 'x-accel-buffering': 'no' },
  });
});
