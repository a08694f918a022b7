import { z } from 'zod';
import { ProvenanceSchema } from '@/core/rig/source-facts';
import { boundedArray } from '@/core/schema/bounded-array';
import { setProvenance } from '@/server/intake/set-provenance';
import { authorOf, jsonRoute } from '@/server/http/http';

const Body = z.strictObject({ characterIds: boundedArray(z.uuid(), 500, 1), provenance: ProvenanceSchema.partial() });

/** Sets source, author, licence or attribution of many characters; fields left out stay as they are. `{ changed, refused }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'provenance', Body, async ({ characterIds, provenance }) =>
    Response.json(await setProvenance(characterIds, provenance, authorOf(request))),
  );
