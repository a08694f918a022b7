import { UndoBody } from '@/contract/requests';
import { undoFit } from '@/server/fits/change-fit';
import { fitRoute, type CharacterContext } from '@/server/http/http';

/**
 * Takes back the sender's own last step, or with `whose: "anyone"` the last one whoever made it, as a new revision.
 * 200 `{ fit }`; 409 the fit moved on, or the last step is somebody else's; 422 nothing to undo.
 */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, UndoBody, (id, body, author) => undoFit(id, { ...body, author }));
