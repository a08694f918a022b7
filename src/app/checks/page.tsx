import { ChecksQuery } from '@/contract/requests';
import { AwayPage } from '@/features/away/AwayPage';
import { ChecksPage } from '@/features/checks/ChecksPage';
import { listChecked } from '@/server/fits/check-many';
import { whileDatabaseIsThere } from '@/server/http/pages';
import { listEntries } from '@/server/library/library';

export const dynamic = 'force-dynamic';

export default async function Page({ searchParams }: { searchParams: Promise<Record<string, string | string[]>> }) {
  const given = await searchParams;
  const query = ChecksQuery.safeParse(given);
  const profile = typeof given.profile === 'string' ? given.profile : null;
  const read = await whileDatabaseIsThere(async () => ({
    ids: query.success ? query.data.characters : await listChecked(),
    profiles: await listEntries('profile'),
  }));
  return read ? (
    <ChecksPage
      ids={read.value.ids}
      profiles={read.value.profiles}
      isSelection={query.success}
      profile={read.value.profiles.some(({ id }) => id === profile) ? profile : null}
    />
  ) : (
    <AwayPage />
  );
}
