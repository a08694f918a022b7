import { ChangeBase } from '@/contract/requests';
import { redoFit } from '@/server/fits/change-fit';
import { fitRoute, type CharacterContext } from '@/server/http/http';

/** Steps the fit forth in its history, as a new revision. 200 `{ fit }`; 409 the fit moved on; 422 nothing to redo. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, ChangeBase, (id, body, author) => redoFit(id, { ...body, author }));
