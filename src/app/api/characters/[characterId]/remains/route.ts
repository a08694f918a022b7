import { CharacterParams } from '@/contract/requests';
import { countRemains } from '@/server/intake/delete-character';
import { guarded, notFound, type CharacterContext } from '@/server/http/http';

/** What stands behind a character, counted: what deleting it would remove. */
export const GET = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'remains', async () => {
    const params = CharacterParams.safeParse(await context.params);
    const remains = params.success ? await countRemains(params.data.characterId) : null;
    return remains ? Response.json({ remains }) : notFound();
  });
