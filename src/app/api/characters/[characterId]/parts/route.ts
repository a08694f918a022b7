import { PartsBody } from '@/contract/requests';
import { joinCharacters } from '@/server/intake/join-characters';
import { fitRoute, type CharacterContext } from '@/server/http/http';

/** Joins other characters to this one as its parts. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, PartsBody, (id, { characterIds, ...base }, author) =>
    joinCharacters(id, characterIds, { ...base, author }),
  );
