/** A drop that somebody within the page has taken: it is not brought in a second time by what lies around. */
import type { DragEvent } from 'react';

const taken = new WeakSet<Event>();
/** The event goes on, so that whoever follows what is held over the page sees it end. */
export function takeDrop(e: DragEvent): void {
  e.preventDefault();
  taken.add(e.nativeEvent);
}
export const isTaken = (e: unknown): boolean => {
  const native = (e as { nativeEvent?: Event } | null)?.nativeEvent;
  return native !== undefined && taken.has(native);
};
