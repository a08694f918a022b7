import { z } from 'zod';
import { undoFit } from '@/server/fits/change-fit';
import { fitRoute, type CharacterContext } from '@/server/http';

const Body = z.strictObject({ baseRevision: z.int().nonnegative() });

/** Steps the fit back in its history, as a new revision. 200 `{ fit }`; 409 the fit moved on; 422 nothing to undo. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, Body, (id, { baseRevision }, author) => undoFit(id, { baseRevision, author }));
