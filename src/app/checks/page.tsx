import { ChecksQuery } from '@/contract/requests';
import { AwayPage } from '@/features/away/AwayPage';
import { ChecksPage } from '@/features/checks/ChecksPage';
import { listChecked } from '@/server/fits/check-many';
import { whileDatabaseIsThere } from '@/server/http/pages';
import { listEntries } from '@/server/library/library';
import { chosenCharacters } from '@/server/selections/selections';

export const dynamic = 'force-dynamic';

export default async function Page({ searchParams }: { searchParams: Promise<Record<string, string | string[]>> }) {
  const given = await searchParams;
  const query = ChecksQuery.safeParse(given);
  const profile = typeof given.profile === 'string' ? given.profile : null;
  const read = await whileDatabaseIsThere(async () => {
    const chosen = query.success ? await chosenCharacters(query.data) : null;
    return {
      ids: chosen ?? (await listChecked()),
      isSelection: chosen !== null,
      profiles: await listEntries('profile'),
    };
  });
  return read ? (
    <ChecksPage
      ids={read.value.ids}
      profiles={read.value.profiles}
      isSelection={read.value.isSelection}
      profile={read.value.profiles.some(({ id }) => id === profile) ? profile : null}
    />
  ) : (
    <AwayPage />
  );
}
