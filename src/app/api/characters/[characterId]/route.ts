import { CharacterParams, DeleteQuery, FitQuery } from '@/contract/requests';
import { deleteCharacter } from '@/server/intake/delete-character';
import { readCharacter } from '@/server/views/read-characters';
import { guarded, invalidRequest, notFound, type CharacterContext } from '@/server/http/http';

/** One character with rig, match, fit, findings and handoffs. */
export const GET = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'character', async () => {
    const params = CharacterParams.safeParse(await context.params);
    const query = FitQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const { definition } = query.data;
    const character = params.success ? await readCharacter(params.data.characterId, definition) : null;
    return character ? Response.json(character) : notFound();
  });

/**
 * Deletes a character with its files, readings and fits. Its packs stay, and can be fetched as before, unless
 * `?packs=delete` says otherwise. 200 `{ removed }`, counted.
 */
export const DELETE = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'character', async () => {
    const params = CharacterParams.safeParse(await context.params);
    const query = DeleteQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const withPacks = query.data.packs === 'delete';
    const removed = params.success ? await deleteCharacter(params.data.characterId, { withPacks }) : null;
    return removed ? Response.json({ removed }) : notFound();
  });
