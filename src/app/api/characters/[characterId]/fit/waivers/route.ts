import { WaiveBody } from '@/contract/requests';
import { waive } from '@/server/fits/repair-fit';
import { fitRoute, type CharacterContext } from '@/server/http/http';

/** Accepts a finding, or all of a check: `{ baseRevision, finding | check, reason, until? }`. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, WaiveBody, (id, { finding, check, reason, until, ...base }, author) =>
    waive(id, { finding, check, reason, until }, { ...base, author }),
  );
