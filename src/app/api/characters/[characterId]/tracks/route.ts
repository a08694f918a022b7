import type { CharacterContext } from '@/server/http/http';
import { blockRoute } from '@/server/http/block-route';

/** Motion tracks of the reading that the character's fit stands on, as a binary block. */
export const GET = (request: Request, context: CharacterContext): Promise<Response> =>
  blockRoute(request, context, 'tracks');
