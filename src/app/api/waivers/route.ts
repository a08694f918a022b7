import { guarded } from '@/server/http/http';
import { listWaivers } from '@/server/fits/list-waivers';

/** What was accepted on any character. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'waivers', async () => Response.json({ waivers: await listWaivers() }));
