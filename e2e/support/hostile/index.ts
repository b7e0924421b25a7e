/** Kinds of files nobody should send: each is made when it is wanted, small, and asks for much or for what is not its own. */
import { media } from './media';
import { models } from './models';

/** By the name of the file. */
export type Kinds = Record<string, () => Uint8Array>;

/** What no file may reach: a file on this machine, and an address on it. */
export interface Lures {
  path: string;
  url: string;
}

export const hostileKinds = (lures: Lures): [string, () => Uint8Array][] => Object.entries({ ...models(lures), ...media(lures) });
