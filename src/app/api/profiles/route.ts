import { CallQuery } from '@/contract/requests';
import { EngineProfileSchema } from '@/core/profile/profile';
import { authorOf, guarded, invalidRequest, readJson } from '@/server/http/http';
import { listProfiles, saveProfile } from '@/server/library/profiles';

/** Engine profiles of the studio with their versions. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'profiles', async () => Response.json({ profiles: await listProfiles() }));

/** Keeps the next version of a profile; `?callId=` names the call. 409 where somebody else was first. */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, 'profile', async () => {
    const query = CallQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const profile = EngineProfileSchema.safeParse(await readJson(request));
    if (!profile.success) return invalidRequest(profile.error.issues);
    const { callId = null } = query.data;
    return Response.json({ profile: await saveProfile(profile.data, authorOf(request), callId) }, { status: 201 });
  });
