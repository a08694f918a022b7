import { CharacterParams, HistoryQuery } from '@/contract/requests';
import { findCurrentFit, listHistory } from '@/server/fits/fit-repository';
import { guarded, invalidRequest, notFound, type CharacterContext } from '@/server/http/http';

/** Older steps of the history than the fit's view brings: `?before=REVISION`. 200 `{ history }`, newest first, at most 200. */
export const GET = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'history', async () => {
    const params = CharacterParams.safeParse(await context.params);
    const query = HistoryQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const fit = params.success ? await findCurrentFit(params.data.characterId, query.data.definition) : null;
    return fit ? Response.json({ history: await listHistory(fit.id, { before: query.data.before }) }) : notFound();
  });
