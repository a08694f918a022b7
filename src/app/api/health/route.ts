import { isAway } from '@/server/database/database-problem';
import { database } from '@/server/database/connection';
import { databaseStatus } from '@/server/database/database-status';
import { guarded } from '@/server/http/http';

/** `{ database: "there" }`, or `"away"` with what is known of it. Always 200: the server itself answers. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'health', async () => {
    try {
      await database().query('SELECT 1');
      return Response.json({ database: 'there' });
    } catch (error) {
      if (!isAway(error)) throw error;
      const { since = null, doing = 'Yarvo waits for it.', lastWords = [] } = databaseStatus() ?? {};
      return Response.json({ database: 'away', since, doing, lastWords });
    }
  });
