import { RosterQuery, UploadQuery } from '@/contract/requests';
import { randomUUID } from 'node:crypto';
import { readRoster } from '@/server/characters/roster';
import { databaseQueue } from '@/server/jobs/database-queue';
import { jobView } from '@/server/jobs/job-view';
import { neverAnswered, queueIntake } from '@/server/intake/intake-job';
import { afterAnswer, authorOf, guarded, invalidRequest } from '@/server/http/http';
import { withFilesOf } from '@/server/uploads/receive-files';

/** A page of the roster, newest change first: `{ characters, total, archived, page, size }`. */
export const GET = (request?: Request): Promise<Response> =>
  guarded(request, 'roster', async () => {
    const given = request ? Object.fromEntries(new URL(request.url).searchParams) : {};
    const query = RosterQuery.safeParse(given);
    if (!query.success) return invalidRequest(query.error.issues);
    const { archived, ...rest } = query.data;
    const { rows, ...counts } = await readRoster({
      ...rest,
      isArchived: archived === undefined ? undefined : archived === 'true',
    });
    return Response.json({ characters: rows, ...counts });
  });

/**
 * Keeps files and queues their intake: one file as the body with `?name=`, or several as a form; `?upload=` names the
 * upload and its job, so that it can be followed and cancelled; `?shelf=true` puts its clips on the shelf. 202
 * `{ job, isRepeated, excess }`, `excess` says which files were one too many; 409 cancelled; 413 too large.
 */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, 'upload', async () => {
    const query = UploadQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const id = query.data.upload ?? randomUUID();
    const author = authorOf(request);
    const { job, isRepeated, answered, excess } = await withFilesOf(request, async (received) => ({
      ...(await queueIntake(databaseQueue, received.files, {
        id,
        author,
        signal: request.signal,
        shelves: query.data.shelf === 'true',
      })),
      excess: received.excess,
    }));
    await afterAnswer(() => (request.signal.aborted ? neverAnswered(job.id) : answered()));
    return Response.json({ job: jobView(job), isRepeated, excess }, { status: 202 });
  });
