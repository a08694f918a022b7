import { authorOf, CharacterParams, guarded, notFound, type CharacterContext } from '@/server/http/http';
import { handOff } from '@/server/packs/hand-off';

/** Builds, verifies and keeps the next pack. 201 `{ version, fileName }`; 409 a blocker is open; 422 the read-back failed. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'handoff', async () => {
    const params = CharacterParams.safeParse(await context.params);
    const made = params.success ? await handOff(params.data.characterId, authorOf(request)) : null;
    return made ? Response.json(made, { status: 201 }) : notFound();
  });
