import { OutParams } from '@/contract/board';
import { readOut } from '@/server/board/read-out';
import { blobResponse } from '@/server/http/blob-response';
import { guarded, notFound } from '@/server/http/http';

/** The zip of motions that were written out. */
export const GET = (request: Request, context: { params: Promise<{ outId: string }> }): Promise<Response> =>
  guarded(request, 'motions', async () => {
    const params = OutParams.safeParse(await context.params);
    const out = params.success ? await readOut(params.data.outId) : null;
    const answer =
      out &&
      (await blobResponse(out.blobHash, {
        'content-type': 'application/zip',
        'content-disposition': `attachment; filename="${out.fileName}"`,
      }));
    return answer || notFound('There are no such files; a zip is kept for a week. Write the motions once more.');
  });
