import { KeptQuery } from '@/contract/motions';
import { authorOf, guarded, invalidRequest } from '@/server/http/http';
import { keepMotion } from '@/server/motions/add-motion';
import { withAllFilesOf } from '@/server/uploads/receive-files';

/** Keeps a motion file on the shelf under a name: 201 `{ motion }`; 422 where it is none. */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, 'motion file', async () => {
    const query = KeptQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const { name, callId = null } = query.data;
    const motion = await withAllFilesOf(request, ([file]) =>
      keepMotion(file, name, { author: authorOf(request), callId }, request.signal),
    );
    return Response.json({ motion }, { status: 201 });
  });
