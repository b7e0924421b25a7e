/** What is let go when a piece is closed: whoever holds something of it says how. */
const letGo = new Set<() => void>();
export const onLeave = (work: () => void): void => void letGo.add(work);
export function leavePiece(): void {
  for (const work of letGo) work();
}
