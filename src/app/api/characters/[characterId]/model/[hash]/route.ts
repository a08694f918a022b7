import { z } from 'zod';
import { getBlob } from '@/server/blobs/blob-store';
import { hasCanonical } from '@/server/readings/readings';
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
    const bytes = await getBlob(params.data.hash);
    if (!bytes) return notFound();
    return new Response(bytes as BodyInit, {
      headers: {
        'content-type': 'model/gltf-binary',
        'content-length': String(bytes.length),
        'cache-control': 'private, max-age=31536000, immutable',
        etag: `"${params.data.hash}"`,
      },
    });
  });
