import { CharacterParams } from '@/contract/requests';
import { findCharacter } from '@/server/characters/character-repository';
import { blobResponse } from '@/server/http/blob-response';
import { guarded, notFound, type CharacterContext } from '@/server/http/http';

/** The original file, byte for byte. It never changes, so browsers may keep it. */
export const GET = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'file', async () => {
    const params = CharacterParams.safeParse(await context.params);
    const character = params.success ? await findCharacter(params.data.characterId) : null;
    if (!character) return notFound();
    const answer = await blobResponse(character.blobHash, {
      'content-type': 'application/octet-stream',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(character.fileName)}`,
      'cache-control': 'private, max-age=31536000, immutable',
      etag: `"${character.blobHash}"`,
    });
    return answer ?? notFound();
  });
