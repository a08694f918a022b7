import { z } from 'zod';
import { startFit } from '@/server/fits/start-fit';
import { authorOf, CharacterParams, jsonRoute, notFound, type CharacterContext } from '@/server/http/http';

const Body = z.strictObject({ definitionId: z.string().min(1).max(80) });

/** Fits the character to another definition: 201 `{ definitionId }`; 422 where it has that fit, or nobody knows it. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  jsonRoute(request, 'fits', Body, async ({ definitionId }) => {
    const params = CharacterParams.safeParse(await context.params);
    if (!params.success) return notFound();
    const isStarted = await startFit(params.data.characterId, definitionId, authorOf(request));
    return isStarted ? Response.json({ definitionId }, { status: 201 }) : notFound();
  });
