import { SkeletonQuery } from '@/contract/requests';
import { guarded, invalidRequest } from '@/server/http/http';
import { skeletonFrom } from '@/server/library/skeleton-from';
import { withAllFilesOf } from '@/server/uploads/receive-files';

/** The skeleton of a file, as a profile holds it. Nothing of the file is kept. */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, 'skeleton', async () => {
    const query = SkeletonQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    return withAllFilesOf(request, async (files) =>
      Response.json({ skeleton: await skeletonFrom(files, query.data.definition, request.signal) }),
    );
  });
