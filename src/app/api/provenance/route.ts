import { ProvenanceBody } from '@/contract/requests';
import { setProvenance } from '@/server/intake/set-provenance';
import { authorOf, jsonRoute } from '@/server/http/http';

/** Sets source, author, licence or attribution of many characters; fields left out stay as they are. `{ changed, refused }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'provenance', ProvenanceBody, async ({ characterIds, provenance }) =>
    Response.json(await setProvenance(characterIds, provenance, authorOf(request))),
  );
