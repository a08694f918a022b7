import { SelectionBody } from '@/contract/requests';
import { jsonRoute } from '@/server/http/http';
import { keepSelection } from '@/server/selections/selections';

/** Keeps characters that are looked at together, for addresses that have no room for their ids: 200 `{ selection }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'selection', SelectionBody, async ({ characterIds }) =>
    Response.json({ selection: await keepSelection(characterIds) }),
  );
