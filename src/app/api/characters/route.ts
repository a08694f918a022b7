import { z } from 'zod';
import { readRoster, ROSTER_SIZES } from '@/server/characters/roster';
import { receiveUpload } from '@/server/intake/uploads';
import { afterAnswer, authorOf, guarded, invalidRequest } from '@/server/http/http';
import { readUpload } from '@/server/http/read-upload';

const RosterQuery = z.object({
  text: z.string().max(200).default(''),
  archived: z.enum(['true', 'false']).optional(),
  page: z.coerce.number().int().min(1).max(100_000).default(1),
  size: z.coerce.number().int().min(1).max(ROSTER_SIZES.most).default(ROSTER_SIZES.usual),
});

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

const Query = z.object({ upload: z.uuid().nullable() });

/**
 * Adds files: one file as the body with `?name=`, or several as a form; `?upload=` names the upload, so that it can
 * be cancelled. 201 `{ characters, refused }`; 409 cancelled; 413 too large; 422 unreadable.
 */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, 'upload', async () => {
    const query = Query.safeParse({ upload: new URL(request.url).searchParams.get('upload') });
    if (!query.success) return invalidRequest(query.error.issues);
    const files = await readUpload(request);
    const arrival = await receiveUpload(query.data.upload, {
      files,
      author: authorOf(request),
      signal: request.signal,
    });
    await afterAnswer(() => (request.signal.aborted ? arrival.unanswered() : arrival.answered()));
    return Response.json(arrival.outcome, { status: 201 });
  });
