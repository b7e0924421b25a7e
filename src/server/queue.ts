/** Few at a time, the rest in line; what would wait too far behind is refused at once. */

/** @param most that may wait @param refuse what is thrown beyond */
export function queue(slots: number, most: number, refuse: () => Error) {
  let running = 0;
  const waiting: (() => void)[] = [];
  return async <T>(work: () => Promise<T>): Promise<T> => {
    if (running >= slots) {
      if (waiting.length >= most) throw refuse();
      // who is let in takes the place of the one that left
      await new Promise<void>((go) => waiting.push(go));
    } else running++;
    try {
      return await work();
    } finally {
      const next = waiting.shift();
      if (next) next();
      else running--;
    }
  };
}
