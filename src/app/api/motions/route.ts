import type { z } from 'zod';
import { ShelveBody, type MotionView } from '@/contract/motions';
import { authorOf, guarded, jsonRoute, notFound } from '@/server/http/http';
import { copyMotion, shelveHouse } from '@/server/motions/add-motion';
import { readShelf } from '@/server/motions/read-shelf';
import { shelve } from '@/server/motions/shelve';

/** The shelf: `{ motions, mostFrames }`. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'motions', async () => Response.json(await readShelf()));

/** Puts clips of a character, a house motion or a copy on the shelf: 201 `{ motions }`; 422 where it cannot be. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'motions', ShelveBody, async (body) => {
    const motions = await added(body, authorOf(request));
    return motions ? Response.json({ motions }, { status: 201 }) : notFound();
  });

async function added(body: z.infer<typeof ShelveBody>, author: string): Promise<MotionView[] | null> {
  const making = { author, callId: body.callId ?? null };
  if ('house' in body) return [await shelveHouse(body.house, body.name, making)];
  if ('copyOf' in body) {
    const copy = await copyMotion(body.copyOf, making);
    return copy && [copy];
  }
  return shelve(body.characterId, body.clips, making);
}
