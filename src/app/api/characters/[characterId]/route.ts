import { readCharacter } from '@/server/characters/read-characters';
import { CharacterParams, guarded, notFound, type CharacterContext } from '@/server/http';

/** One character with rig, match, fit, findings and handoffs. */
export const GET = (_request: Request, context: CharacterContext): Promise<Response> =>
  guarded('character', async () => {
    const params = CharacterParams.safeParse(await context.params);
    const character = params.success ? await readCharacter(params.data.characterId) : null;
    return character ? Response.json(character) : notFound();
  });
