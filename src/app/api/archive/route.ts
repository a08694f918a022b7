import { z } from 'zod';
import { boundedArray } from '@/core/schema/bounded-array';
import { archiveCharacters } from '@/server/intake/delete-character';
import { jsonRoute } from '@/server/http/http';

const Body = z.strictObject({ characterIds: boundedArray(z.uuid(), 500, 1), isArchived: z.boolean() });

/** Puts characters away, or brings them back; nothing of them changes. `{ changed }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'archive', Body, async ({ characterIds, isArchived }) =>
    Response.json({ changed: await archiveCharacters(characterIds, isArchived) }),
  );
