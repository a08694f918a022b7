import { ChecksQuery } from '@/contract/requests';
import { checkMany, listChecked } from '@/server/fits/check-many';
import { guarded, invalidRequest } from '@/server/http/http';
import { chosenCharacters } from '@/server/selections/selections';

/** What the checks find on characters: `?characters=ID,ID` or `?selection=ID`, `[&profile=ID]`. A JSON line for each, as soon as it is known. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'checks', async () => {
    const query = ChecksQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const ids = (await chosenCharacters(query.data)) ?? (await listChecked());
    const rows = checkMany(ids, query.data.profile);
    const encoder = new TextEncoder();
    const stream = new ReadableStream<Uint8Array>({
      async pull(controller) {
        const { value, done } = await rows.next();
        if (done) controller.close();
        else controller.enqueue(encoder.encode(`${JSON.stringify(value)}\n`));
      },
      async cancel() {
        await rows.return(undefined);
      },
    });
    return new Response(stream, { headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' } });
  });
