/** Archives of models: entry count, unpacked bytes and ratio are checked before and while unpacking; paths are cleaned. */

import yauzl from 'yauzl';
import { cleanPath, INTAKE_LIMITS, IntakeError } from '@/core/intake';

const refuse = (code: string, message: string) => new IntakeError(code, message);

/** All files of a zip by clean path. Memory is bounded by INTAKE_LIMITS.archiveBytes. */
export async function unzipModels(bytes: Uint8Array): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>();
  const zip = await yauzl
    .fromBufferPromise(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), { lazyEntries: true })
    .catch((error: Error) => {
      throw refuse('zip/broken', `The zip cannot be opened: ${error.message}. Pack it again.`);
    });
  if (zip.entryCount > INTAKE_LIMITS.archiveEntries)
    throw refuse('zip/too-many', `The zip has ${zip.entryCount} entries; up to ${INTAKE_LIMITS.archiveEntries} are read.`);
  let total = 0;
  try {
    for await (const entry of zip.eachEntry()) {
      if (entry.fileName.endsWith('/')) continue;
      const path = cleanPath(entry.fileName);
      if (path === null || entry.fileName.startsWith('/'))
        throw refuse('zip/path', `The zip holds “${entry.fileName.slice(0, 100)}”, a path that leads outside. Pack it again.`);
      if (entry.uncompressedSize > 1e6 && entry.uncompressedSize > INTAKE_LIMITS.archiveRatio * entry.compressedSize)
        throw refuse('zip/bomb', `${path} in the zip unpacks to ${entry.uncompressedSize} bytes from ${entry.compressedSize}: not read.`);
      total += entry.uncompressedSize;
      if (total > INTAKE_LIMITS.archiveBytes)
        throw refuse('zip/too-large', `The zip unpacks to more than ${INTAKE_LIMITS.archiveBytes} bytes.`);
      const chunks: Buffer[] = [];
      let size = 0;
      // yauzl stops a stream that grows past its declared size
      for await (const chunk of await zip.openReadStreamPromise(entry)) {
        chunks.push(chunk as Buffer);
        size += (chunk as Buffer).length;
        if (size > INTAKE_LIMITS.archiveBytes) throw refuse('zip/too-large', `${path} in the zip is larger than it says.`);
      }
      files.set(path, Buffer.concat(chunks));
    }
  } catch (error) {
    if (error instanceof IntakeError) throw error;
    throw refuse('zip/broken', `The zip cannot be unpacked: ${(error as Error).message}. Pack it again.`);
  } finally {
    zip.close();
  }
  return files;
}
