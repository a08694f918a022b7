import { databaseStatus } from '@/server/database/database-status';
import { isDatabaseThere } from '@/server/database/watch-database';
import { guarded } from '@/server/http/http';

/**
 * `{ database: "there" }`, or `"away"` with what is known of it, within five seconds. Always 200: the server itself
 * answers.
 */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'health', async () => {
    if (await isDatabaseThere()) return Response.json({ database: 'there' });
    const { since = null, doing = 'Yarvo waits for it.', lastWords = [] } = databaseStatus() ?? {};
    return Response.json({ database: 'away', since, doing, lastWords });
  });
