import { MotionParams } from '@/contract/motions';
import { blobResponse } from '@/server/http/blob-response';
import { guarded, notFound } from '@/server/http/http';
import { findMotionRow } from '@/server/motions/motion-repository';

/** The file of a kept motion. */
export const GET = (request: Request, context: { params: Promise<{ motionId: string }> }): Promise<Response> =>
  guarded(request, 'motion', async () => {
    const params = MotionParams.safeParse(await context.params);
    const row = params.success ? await findMotionRow(params.data.motionId) : null;
    const answer =
      row?.blobHash &&
      (await blobResponse(row.blobHash, {
        'content-type': 'application/octet-stream',
        'cache-control': 'private, max-age=31536000, immutable',
      }));
    return answer || notFound('There is no such motion file.');
  });
