/** Bodies of requests, counted while they stream: nothing that is too long is kept, whatever its sender declared. */
import type { HttpError } from './errors';

/** @throws {HttpError} 413 with `tooLarge` as soon as more than `most` bytes came */
export async function readBody(request: Request, most: number, tooLarge: HttpError): Promise<Uint8Array<ArrayBuffer>> {
  if (Number(request.headers.get('content-length') ?? 0) > most) throw tooLarge;
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  for (;;) {
    const next = await reader?.read();
    if (!next || next.done) break;
    size += next.value.byteLength;
    if (size > most) {
      await reader?.cancel().catch(() => undefined);
      throw tooLarge;
    }
    chunks.push(next.value);
  }
  const out = new Uint8Array(size);
  let at = 0;
  for (const c of chunks) {
    out.set(c, at);
    at += c.byteLength;
  }
  return out;
}
