import { RestoreBody } from '@/contract/requests';
import { restoreFit } from '@/server/fits/change-fit';
import { fitRoute, type CharacterContext } from '@/server/http/http';

/** Brings back an earlier revision, as a new one. 200 `{ fit }`; 409 the fit moved on; 422 no such revision, or the fit is closed. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, RestoreBody, (id, { revision, ...base }, author) =>
    restoreFit(id, revision, { ...base, author }),
  );
