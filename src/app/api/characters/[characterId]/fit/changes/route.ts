import { ActionBody } from '@/contract/requests';
import { changeFit } from '@/server/fits/change-fit';
import { fitRoute, type CharacterContext } from '@/server/http/http';

/** Applies one action to the fit. 200 `{ fit }`; 400 names each bad field; 409 the fit moved on; 422 nothing to do. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, ActionBody, (id, { action, ...base }, author) =>
    changeFit(id, action, { ...base, author }),
  );
