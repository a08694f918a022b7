import { z } from 'zod';
import { proposeJoins } from '@/server/characters/join-characters';
import { guarded, invalidRequest } from '@/server/http';

const Body = z.strictObject({ characterIds: z.array(z.uuid()).min(2).max(200) });

/** Which of some characters look like parts of one: `{ proposals }`. Nothing is changed. */
export const POST = (request: Request): Promise<Response> =>
  guarded('joins', async () => {
    const body = Body.safeParse(await request.json().catch(() => undefined));
    if (!body.success) return invalidRequest(body.error.issues);
    return Response.json({ proposals: await proposeJoins(body.data.characterIds) });
  });
