import { AwayPage } from '@/features/away/AwayPage';
import { StudioPage } from '@/features/studio/StudioPage';
import { whileDatabaseIsThere } from '@/server/http/pages';
import { listWaivers } from '@/server/fits/list-waivers';
import { listProfiles, readProfile } from '@/server/library/profiles';
import { STUDIO } from '@/server/library/studio';

export const dynamic = 'force-dynamic';

export default async function Page({ searchParams }: { searchParams: Promise<Record<string, string | string[]>> }) {
  const { profile, show } = await searchParams;
  const read = await whileDatabaseIsThere(async () => {
    const entries = await listProfiles();
    const wanted = entries.find(({ id }) => id === profile)?.id ?? STUDIO.profile;
    const waivers = await listWaivers();
    return { entries, profile: await readProfile(wanted), waivers };
  });
  return read ? <StudioPage {...read.value} showsWaivers={show === 'waivers'} /> : <AwayPage />;
}
