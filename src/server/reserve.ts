/** Room on the disk that files may not take: what people do is saved in the database, which must be able to write when nothing else can. */
import { statfs } from 'node:fs/promises';
import { showBytes } from '@/core/math';
import { config } from './config';
import { HttpError } from './errors';

/** Bytes; SCAPHOS_RESERVE_MB. */
const reserveBytes = () => {
  const mb = Number(process.env.SCAPHOS_RESERVE_MB);
  return (Number.isFinite(mb) && mb >= 0 && process.env.SCAPHOS_RESERVE_MB ? mb : 300) * 1e6;
};

/** @throws {HttpError} 507 so many bytes more would take of the room that is kept for what is saved */
export async function requireDisk(more: number): Promise<void> {
  const { bavail, bsize } = await statfs(config().dataDir);
  const free = bavail * bsize;
  if (free - more >= reserveBytes()) return;
  throw new HttpError(
    507,
    'http/full',
    `The server’s disk has ${showBytes(free)} left, and ${showBytes(reserveBytes())} are kept for what you save. Files are taken again when there is room.`,
  );
}
