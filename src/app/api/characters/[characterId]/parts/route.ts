import { z } from 'zod';
import { boundedArray } from '@/core/schema/bounded-array';
import { joinCharacters } from '@/server/intake/join-characters';
import { BaseSchema } from '@/server/fits/change-request';
import { fitRoute, type CharacterContext } from '@/server/http/http';

const Body = BaseSchema.extend({ characterIds: boundedArray(z.uuid(), 50, 1) });

/** Joins other characters to this one as its parts. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, Body, (id, { characterIds, ...base }, author) =>
    joinCharacters(id, characterIds, { ...base, author }),
  );
