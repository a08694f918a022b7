import { z } from 'zod';
import { hasCanonical } from '@/server/readings/readings';
import { blobResponse } from '@/server/http/blob-response';
import { guarded, notFound } from '@/server/http/http';

const Params = z.object({ characterId: z.uuid(), hash: z.string().regex(/^[0-9a-f]{64}$/) });

/** The canonical GLB that the stage draws. Named by its content, so browsers may keep it. */
export const GET = (
  request: Request,
  context: { params: Promise<{ characterId: string; hash: string }> },
): Promise<Response> =>
  guarded(request, 'model', async () => {
    const params = Params.safeParse(await context.params);
    if (!params.success || !(await hasCanonical(params.data.characterId, params.data.hash))) return notFound();
    const answer = await blobResponse(params.data.hash, {
      'content-type': 'model/gltf-binary',
      'cache-control': 'private, max-age=31536000, immutable',
      etag: `"${params.data.hash}"`,
    });
    return answer ?? notFound();
  });
