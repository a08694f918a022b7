import { z } from 'zod';
import { undoFit } from '@/server/fits/change-fit';
import { BaseSchema } from '@/server/fits/change-request';
import { fitRoute, type CharacterContext } from '@/server/http/http';

const Body = BaseSchema.extend({ whose: z.enum(['own', 'anyone']).default('own') });

/**
 * Takes back the sender's own last step, or with `whose: "anyone"` the last one whoever made it, as a new revision.
 * 200 `{ fit }`; 409 the fit moved on, or the last step is somebody else's; 422 nothing to undo.
 */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, Body, (id, body, author) => undoFit(id, { ...body, author }));
