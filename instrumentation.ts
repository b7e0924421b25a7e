/** Once a server starts, and daily: blobs and packages nobody names any more go. */
export async function register() {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { collectBlobs, database, log, sweepPackages } = await import('@/server');
  const sweep = async () => {
    try {
      const gone = await collectBlobs(database());
      await sweepPackages();
      log.info({ blobs: gone }, 'swept');
    } catch (error) {
      log.warn({ err: error }, 'sweep failed; tried again tomorrow');
    }
  };
  setTimeout(sweep, 30_000).unref();
  setInterval(sweep, 86_400_000).unref();
}
