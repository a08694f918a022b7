import { z } from 'zod';
import { ProvenanceSchema } from '@/core/rig/source-facts';
import { setProvenance } from '@/server/characters/set-provenance';
import { authorOf, guarded, invalidRequest } from '@/server/http';

const Body = z.strictObject({ characterIds: z.array(z.uuid()).min(1).max(500), provenance: ProvenanceSchema.partial() });

/** Sets source, author, licence or attribution of many characters; fields left out stay as they are. `{ changed, refused }`. */
export const POST = (request: Request): Promise<Response> =>
  guarded('provenance', async () => {
    const body = Body.safeParse(await request.json().catch(() => undefined));
    if (!body.success) return invalidRequest(body.error.issues);
    return Response.json(await setProvenance(body.data.characterIds, body.data.provenance, authorOf(request)));
  });
