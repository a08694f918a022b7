import { ArchiveBody } from '@/contract/requests';
import { archiveCharacters } from '@/server/intake/delete-character';
import { jsonRoute } from '@/server/http/http';

/** Puts characters away, or brings them back; nothing of them changes. `{ changed }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'archive', ArchiveBody, async ({ characterIds, isArchived }) =>
    Response.json({ changed: await archiveCharacters(characterIds, isArchived) }),
  );
