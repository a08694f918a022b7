import { supplyFiles } from '@/server/intake/supply-files';
import {
  authorOf,
  CharacterParams,
  changeResponse,
  guarded,
  notFound,
  type CharacterContext,
} from '@/server/http/http';
import { readUpload } from '@/server/http/read-upload';

/** Supplies files for references that led nowhere; matched by name. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'textures', async () => {
    const params = CharacterParams.safeParse(await context.params);
    if (!params.success) return notFound();
    return changeResponse(await supplyFiles(params.data.characterId, await readUpload(request), authorOf(request)));
  });
