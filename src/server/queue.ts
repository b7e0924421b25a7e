/** Few at a time, the rest in line, taking turns by whose work it is; what would wait too far behind is refused at once. */

/** Whose turn was when is remembered of so many. */
const REMEMBERED = 1_000;

export interface Turns {
  slots: number;
  /** Of these, what one key may have at once: with fewer than all, another's work begins at once. */
  each?: number;
  /** That may wait of one key. */
  most: number;
  /** What is thrown beyond. */
  refuse: () => Error;
}

export function turnsByKey({ slots, each = slots, most, refuse }: Turns) {
  let running = 0;
  const held = new Map<string, number>();
  const free = (key: string) => running < slots && (held.get(key) ?? 0) < each;
  let turn = 0;
  const waiting = new Map<string, (() => void)[]>();
  /** Longest ago first. */
  const turns = new Map<string, number>();
  const begin = (key: string) => {
    running++;
    held.set(key, (held.get(key) ?? 0) + 1);
    turns.delete(key);
    turns.set(key, ++turn);
    if (turns.size > REMEMBERED) for (const [oldest] of turns) return void turns.delete(oldest);
  };
  const next = () => {
    const since = (key: string) => turns.get(key) ?? 0;
    const [key] = [...waiting.keys()].filter(free).sort((a, b) => since(a) - since(b));
    const line = key === undefined ? undefined : waiting.get(key);
    const go = line?.shift();
    if (key === undefined || !line || !go) return;
    if (line.length === 0) waiting.delete(key);
    // before it is told: nobody slips in between
    begin(key);
    go();
  };
  const take = async <T>(key: string, work: () => Promise<T>): Promise<T> => {
    if (free(key)) begin(key);
    else {
      const line = waiting.get(key) ?? [];
      if (line.length >= most) throw refuse();
      waiting.set(key, line);
      await new Promise<void>((go) => line.push(go));
    }
    try {
      return await work();
    } finally {
      running--;
      const left = (held.get(key) ?? 1) - 1;
      if (left > 0) held.set(key, left);
      else held.delete(key);
      next();
    }
  };
  const counts = () => ({ running, waiting: [...waiting.values()].reduce((n, line) => n + line.length, 0) });
  return Object.assign(take, { counts });
}

/** The same for work that is everybody's. */
export function queue(slots: number, most: number, refuse: () => Error) {
  const inTurn = turnsByKey({ slots, most, refuse });
  return <T>(work: () => Promise<T>): Promise<T> => inTurn('', work);
}
