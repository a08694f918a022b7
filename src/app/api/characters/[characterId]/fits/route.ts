import { CharacterParams, StartFitBody } from '@/contract/requests';
import { startFit } from '@/server/fits/start-fit';
import { authorOf, jsonRoute, notFound, type CharacterContext } from '@/server/http/http';

/** Fits the character to another definition: 201 `{ definitionId }`; 422 where it has that fit, or nobody knows it. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  jsonRoute(request, 'fits', StartFitBody, async ({ definitionId }) => {
    const params = CharacterParams.safeParse(await context.params);
    if (!params.success) return notFound();
    const isStarted = await startFit(params.data.characterId, definitionId, authorOf(request));
    return isStarted ? Response.json({ definitionId }, { status: 201 }) : notFound();
  });
