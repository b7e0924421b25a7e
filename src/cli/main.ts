/** The program `./scaphos`. */
import { call } from './call';

// whoever reads may stop early, as "head" does
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit();
});

process.exitCode = await call(process.argv.slice(2));
