import { JoinsBody } from '@/contract/requests';
import { proposeJoins } from '@/server/intake/join-characters';
import { jsonRoute } from '@/server/http/http';

/** Which of some characters look like parts of one: `{ proposals }`. Nothing is changed. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'joins', JoinsBody, async ({ characterIds }) =>
    Response.json({ proposals: await proposeJoins(characterIds) }),
  );
