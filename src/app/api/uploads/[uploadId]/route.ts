import { z } from 'zod';
import { cancelUpload } from '@/server/intake/uploads';
import { guarded, invalidRequest } from '@/server/http/http';

const Params = z.object({ uploadId: z.uuid() });

/** Cancels an upload, and says what is kept of it all the same: `{ kept }`, empty where it was not done yet. */
export const DELETE = (request: Request, context: { params: Promise<{ uploadId: string }> }): Promise<Response> =>
  guarded(request, 'upload', async () => {
    const params = Params.safeParse(await context.params);
    if (!params.success) return invalidRequest(params.error.issues);
    return Response.json({ kept: await cancelUpload(params.data.uploadId) });
  });
