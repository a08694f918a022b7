import { CharacterParams, RepairsBody, RepairsQuery } from '@/contract/requests';
import { previewRepairs, repairFit } from '@/server/fits/repair-fit';
import { fitRoute, guarded, invalidRequest, notFound, type CharacterContext } from '@/server/http/http';

/** Makes repairs: `{ baseRevision, repairs }`. */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  fitRoute(request, context, RepairsBody, (id, { repairs, ...base }, author) =>
    repairFit(id, repairs, { ...base, author }),
  );

/** What repairs would change: `?repairs=KIND,KIND` or `?repairs=safe`. */
export const GET = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'repairs', async () => {
    const params = CharacterParams.safeParse(await context.params);
    const query = RepairsQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const { repairs, definition, movement } = query.data;
    const preview = params.success
      ? await previewRepairs(params.data.characterId, repairs, { definition, hasMovement: movement === 'yes' })
      : null;
    return preview ? Response.json(preview) : notFound();
  });
