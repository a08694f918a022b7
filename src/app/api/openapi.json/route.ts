import { openApiDocument } from '@/contract/openapi';
import { guarded } from '@/server/http/http';

/** The contract as an OpenAPI 3.1 document; the same as docs/openapi.json. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'openapi', () => Promise.resolve(Response.json(openApiDocument())));
