/** Passwords as argon2id, few at a time: each takes a core and 19 MB, and more at once would hold up everybody else. */
import { hash, verify } from '@node-rs/argon2';
import { HttpError } from './errors';
import { queue } from './queue';

/** OWASP's least setting for argon2id (19 MiB, 2 passes, 1 lane), *from memory*. */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

const inLine = queue(2, 100, () => new HttpError(503, 'account/busy', 'Too many sign in at this moment. Try again in a minute.'));

/** @throws {HttpError} 503 too many at once */
export const hashPassword = (password: string): Promise<string> => inLine(() => hash(password, ARGON2));

/** Verified against where there is no account, so that both answers take as long. */
let decoy: Promise<string> | null = null;

/** Whether a password is the one of this hash; never where there is none. @throws {HttpError} 503 too many at once */
export async function isPassword(kept: string | undefined, password: string): Promise<boolean> {
  decoy ??= hash('no account has this password', ARGON2);
  const against = kept ?? (await decoy);
  const right = await inLine(() => verify(against, password).catch(() => false));
  return right && kept !== undefined;
}
