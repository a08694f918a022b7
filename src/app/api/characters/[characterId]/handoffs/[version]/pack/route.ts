import { PackParams } from '@/contract/requests';
import { blobResponse } from '@/server/http/blob-response';
import { deleteLeftPack, findHandoff } from '@/server/packs/handoff-repository';
import { guarded, notFound } from '@/server/http/http';

/** The pack of one version, as it was verified. */
export const GET = (
  request: Request,
  context: { params: Promise<{ characterId: string; version: string }> },
): Promise<Response> =>
  guarded(request, 'pack', async () => {
    const params = PackParams.safeParse(await context.params);
    const handoff = params.success ? await findHandoff(params.data.characterId, params.data.version) : null;
    const answer =
      handoff &&
      (await blobResponse(handoff.blobHash, {
        'content-type': 'application/zip',
        'content-disposition': `attachment; filename="${handoff.fileName}"`,
      }));
    return answer ?? notFound('There is no such pack.');
  });

/** Deletes the pack of a character that was deleted. 204; 404 where there is none, or its character is there. */
export const DELETE = (
  request: Request,
  context: { params: Promise<{ characterId: string; version: string }> },
): Promise<Response> =>
  guarded(request, 'pack', async () => {
    const params = PackParams.safeParse(await context.params);
    const isGone = params.success && (await deleteLeftPack(params.data.characterId, params.data.version));
    return isGone ? new Response(null, { status: 204 }) : notFound('There is no such pack of a deleted character.');
  });
