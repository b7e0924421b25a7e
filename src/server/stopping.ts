/** The end of a server: streams are closed, new work is refused, and what is not done within a moment is left to the next one. */

const PATIENCE_MS = 1_500;
const held = globalThis as { scaphosStreams?: Set<() => void>; scaphosStopping?: boolean };

export const isStopping = () => held.scaphosStopping === true;

/** Calls `close` when the server stops. Returns how to stop waiting for it. */
export function onStop(close: () => void): () => void {
  held.scaphosStreams ??= new Set();
  const streams = held.scaphosStreams.add(close);
  return () => void streams.delete(close);
}

/** Call once, when a server starts. */
export function stopOnSignal(): void {
  process.on('SIGTERM', () => {
    held.scaphosStopping = true;
    for (const close of held.scaphosStreams ?? []) close();
    setTimeout(() => process.exit(0), PATIENCE_MS).unref();
  });
}
