import { EngineProfileSchema } from '@/core/profile/profile';
import { authorOf, guarded, invalidRequest, readJson } from '@/server/http/http';
import { listProfiles, saveProfile } from '@/server/library/profiles';

/** Engine profiles of the studio with their versions. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'profiles', async () => Response.json({ profiles: await listProfiles() }));

/** Keeps the next version of a profile. */
export const POST = (request: Request): Promise<Response> =>
  guarded(request, 'profile', async () => {
    const profile = EngineProfileSchema.safeParse(await readJson(request));
    if (!profile.success) return invalidRequest(profile.error.issues);
    return Response.json({ profile: await saveProfile(profile.data, authorOf(request)) }, { status: 201 });
  });
