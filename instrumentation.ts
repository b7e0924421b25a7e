/** Once a server starts: jobs go on. Then, and daily: blobs, packages and half uploads nobody names any more go. */
export async function register() {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const {
    confineReaders,
    noteCallers,
    serveMetrics,
    collectBlobs,
    database,
    jobs,
    log,
    sweepCache,
    sweepSessions,
    stopOnSignal,
    sweepTemp,
    sweepUploads,
  } = await import('@/server');
  const sweep = async () => {
    try {
      const gone = await collectBlobs(database());
      await sweepCache();
      await sweepSessions(database());
      await sweepUploads();
      log.info({ blobs: gone }, 'swept');
    } catch (error) {
      log.warn({ err: error }, 'sweep failed; tried again tomorrow');
    }
  };
  stopOnSignal();
  noteCallers();
  const metrics = Number(process.env.SCAPHOS_METRICS);
  if (metrics > 0) await serveMetrics(metrics);
  await sweepTemp().catch((error: unknown) => log.warn({ err: error }, 'folders of the last run could not be removed'));
  await confineReaders();
  // what the last server was at when it ended
  jobs()
    .resume()
    .catch((error: unknown) => log.warn({ err: error }, 'jobs of the last run could not be taken up'));
  setTimeout(sweep, 30_000).unref();
  setInterval(sweep, 86_400_000).unref();
}
