/** `./scaphos account add`: an account and its yard without a browser. */
import { ZodError } from 'zod';
import { openDatabase } from '@/server/db';
import { HttpError } from '@/server/errors';
import { setUpAccount } from '@/server/setup';
import { CliFailure, say } from './failure';
import { withDatabase } from './serve';

export async function addAccount(given: { email?: string; name?: string; yard?: string; password?: string }): Promise<number> {
  const wanted = {
    email: given.email ?? '',
    name: given.name ?? given.email?.split('@')[0] ?? '',
    yard: given.yard ?? 'First yard',
    password: given.password ?? process.env.SCAPHOS_PASSWORD ?? '',
  };
  return withDatabase(async (url) => {
    const db = openDatabase(url);
    try {
      const account = await setUpAccount(db, wanted);
      say(`${account.email} has an account now, and the yard ${wanted.yard}.`);
      return 0;
    } catch (error) {
      if (error instanceof ZodError)
        throw new CliFailure(
          `${error.issues[0].path.join('.')}: ${error.issues[0].message}. Give --email, --password (or SCAPHOS_PASSWORD), and if you like --name and --yard.`,
          64,
        );
      if (error instanceof HttpError) throw new CliFailure(error.message, 75);
      throw error;
    } finally {
      await db.destroy();
    }
  });
}
