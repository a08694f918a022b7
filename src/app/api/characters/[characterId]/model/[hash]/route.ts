import { ModelParams } from '@/contract/requests';
import { hasCanonical } from '@/server/readings/readings';
import { blobResponse } from '@/server/http/blob-response';
import { guarded, notFound } from '@/server/http/http';

/** The canonical GLB that the stage draws. Named by its content, so browsers may keep it. */
export const GET = (
  request: Request,
  context: { params: Promise<{ characterId: string; hash: string }> },
): Promise<Response> =>
  guarded(request, 'model', async () => {
    const params = ModelParams.safeParse(await context.params);
    if (!params.success || !(await hasCanonical(params.data.characterId, params.data.hash))) return notFound();
    const answer = await blobResponse(params.data.hash, {
      'content-type': 'model/gltf-binary',
      'cache-control': 'private, max-age=31536000, immutable',
      etag: `"${params.data.hash}"`,
    });
    return answer ?? notFound();
  });
