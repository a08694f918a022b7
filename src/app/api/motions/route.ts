import { ShelveBody } from '@/contract/motions';
import { authorOf, guarded, jsonRoute, notFound } from '@/server/http/http';
import { readShelf } from '@/server/motions/read-shelf';
import { shelve } from '@/server/motions/shelve';

/** The shelf: `{ motions, mostFrames }`. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'motions', async () => Response.json(await readShelf()));

/** Puts clips of a character on the shelf: 201 `{ motions }`; 422 where they move no figure. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'motions', ShelveBody, async ({ characterId, clips }) => {
    const motions = await shelve(characterId, clips, authorOf(request));
    return motions ? Response.json({ motions }, { status: 201 }) : notFound();
  });
