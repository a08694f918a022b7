import { z } from 'zod';
import { joinCharacters } from '@/server/characters/join-characters';
import { fitRoute, type CharacterContext } from '@/server/http';

const Body = z.strictObject({ baseRevision: z.int().nonnegative(), characterIds: z.array(z.uuid()).min(1).max(50) });

/** Joins other characters to this one as its parts. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, Body, (id, { baseRevision, characterIds }, author) => joinCharacters(id, characterIds, { baseRevision, author }));
