import { z } from 'zod';
import { listRoster } from '@/server/characters/read-characters';
import { receiveUpload } from '@/server/characters/uploads';
import { afterAnswer, authorOf, guarded, invalidRequest } from '@/server/http';
import { readUpload } from '@/server/read-upload';

/** The roster. */
export const GET = (request?: Request): Promise<Response> =>
  guarded(request, 'roster', async () => Response.json({ characters: await listRoster() }));

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
    const arrival = await receiveUpload(query.data.upload, { files, author: authorOf(request), signal: request.signal });
    await afterAnswer(() => (request.signal.aborted ? arrival.unanswered() : arrival.answered()));
    return Response.json(arrival.outcome, { status: 201 });
  });
