import type { Instrumentation } from 'next';

/** Runs once when the web server starts; not while the pages are built, which has no database. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs' || process.env.YARVO_DB_PORT === undefined) return;
  const { keepUp } = await import('@/server/upkeep/upkeep');
  const { startJobs } = await import('@/server/upkeep/start-jobs');
  void keepUp();
  void startJobs();
}

/** A page that failed shows only a digest; the log has the rest under it. */
export const onRequestError: Instrumentation.onRequestError = async (error, request) => {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { log } = await import('./server/log/logger');
  const { digest } = error as { digest?: string };
  log().error({ digest, requestId: request.headers['x-request-id'], path: request.path, err: error }, 'a page failed');
};
