import { IntakeDecisionsSchema } from '@/core/intake/decisions';
import { changeIntake } from '@/server/fits/change-fit';
import { BaseSchema } from '@/server/fits/change-request';
import { fitRoute, type CharacterContext } from '@/server/http/http';

// Parts and supplied files come with their bytes, through routes of their own; here they can only name what is there.
const Body = BaseSchema.extend({ change: IntakeDecisionsSchema.partial() });

/** Changes how the file is understood: `{ baseRevision, change }`. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, Body, (id, { change, ...base }, author) => changeIntake(id, change, { ...base, author }));
