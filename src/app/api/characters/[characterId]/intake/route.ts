import { IntakeBody } from '@/contract/requests';
import { changeIntake } from '@/server/fits/change-fit';
import { fitRoute, type CharacterContext } from '@/server/http/http';

/** Changes how the file is understood: `{ baseRevision, change }`. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, IntakeBody, (id, { change, ...base }, author) =>
    changeIntake(id, change, { ...base, author }),
  );
