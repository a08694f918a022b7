import { z } from 'zod';
import { boundedArray } from '@/core/schema/bounded-array';
import { proposeJoins } from '@/server/intake/join-characters';
import { jsonRoute } from '@/server/http/http';

const Body = z.strictObject({ characterIds: boundedArray(z.uuid(), 200, 2) });

/** Which of some characters look like parts of one: `{ proposals }`. Nothing is changed. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'joins', Body, async ({ characterIds }) =>
    Response.json({ proposals: await proposeJoins(characterIds) }),
  );
