import { RenewalsBody } from '@/contract/requests';
import { authorOf, guarded, jsonRoute } from '@/server/http/http';
import { acceptRenewal, listRenewals } from '@/server/renewals/renewals';

/** Fits that a newer reader or matcher would change, with what changes: 200 `{ renewals }`. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'renewals', async () => Response.json({ renewals: await listRenewals() }));

/** Accepts the changes of some fits, each as a step of its history: 200 `{ accepted }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'renewals', RenewalsBody, async ({ fits }) => {
    let accepted = 0;
    for (const { characterId, definitionId } of fits)
      if (await acceptRenewal(characterId, definitionId, authorOf(request))) accepted++;
    return Response.json({ accepted });
  });
