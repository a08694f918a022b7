import { KeptQuery } from '@/contract/motions';
import { authorOf, guarded, invalidRequest } from '@/server/http/http';
import { readBounded } from '@/server/http/read-bounded';
import { keepMotion } from '@/server/motions/add-motion';

/** Largest motion file that is taken, bytes. */
const MOST_BYTES = 256 * 1024 * 1024;

/** Keeps a motion file on the shelf under a name: 201 `{ motion }`; 422 where it is none. */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, 'motion file', async () => {
    const query = KeptQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const bytes = await readBounded(request, MOST_BYTES, 'motion file', 'Keep a shorter part of it.');
    return Response.json({ motion: await keepMotion(bytes, query.data.name, authorOf(request)) }, { status: 201 });
  });
