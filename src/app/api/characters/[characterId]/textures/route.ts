import { CharacterParams } from '@/contract/requests';
import { supplyFiles } from '@/server/intake/supply-files';
import { authorOf, changeResponse, guarded, notFound, type CharacterContext } from '@/server/http/http';
import { withAllFilesOf } from '@/server/uploads/receive-files';

/** Supplies files for references that led nowhere; matched by name. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'textures', async () => {
    const params = CharacterParams.safeParse(await context.params);
    if (!params.success) return notFound();
    const { characterId } = params.data;
    return withAllFilesOf(request, async (files) =>
      changeResponse(await supplyFiles(characterId, files, authorOf(request))),
    );
  });
