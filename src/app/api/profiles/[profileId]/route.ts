import { ProfileParams, ProfileQuery } from '@/contract/requests';
import { guarded, invalidRequest, notFound } from '@/server/http/http';
import { readProfile } from '@/server/library/profiles';

/** An engine profile: `?version=N`, the newest where none is named. */
export const GET = (request: Request, context: { params: Promise<{ profileId: string }> }): Promise<Response> =>
  guarded(request, 'profile', async () => {
    const params = ProfileParams.safeParse(await context.params);
    const query = ProfileQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!params.success) return notFound();
    if (!query.success) return invalidRequest(query.error.issues);
    return Response.json({ profile: await readProfile(params.data.profileId, query.data.version) });
  });
