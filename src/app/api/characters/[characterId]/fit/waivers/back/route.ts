import { UnwaiveBody } from '@/contract/requests';
import { unwaive } from '@/server/fits/repair-fit';
import { fitRoute, type CharacterContext } from '@/server/http/http';

/** Opens again what was waived: `{ baseRevision, finding | check }`. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, UnwaiveBody, (id, { finding, check, ...base }, author) =>
    unwaive(id, { finding, check }, { ...base, author }),
  );
