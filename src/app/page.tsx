import { z } from 'zod';
import { AwayPage } from '@/features/away/AwayPage';
import { RosterPage } from '@/features/roster/RosterPage';
import { readRoster } from '@/server/characters/roster';
import { listLeftPacks } from '@/server/packs/handoff-repository';
import { listRenewals } from '@/server/renewals/renewals';
import { whileDatabaseIsThere } from '@/server/http/pages';

export const dynamic = 'force-dynamic';

const Address = z.object({
  text: z.string().max(200).catch(''),
  page: z.coerce.number().int().min(1).max(100_000).catch(1),
  archive: z.literal('yes').optional().catch(undefined),
});

export default async function Page({ searchParams }: { searchParams: Promise<Record<string, unknown>> }) {
  const { text, page, archive } = Address.parse(await searchParams);
  const isArchived = archive === 'yes';
  const read = await whileDatabaseIsThere(() =>
    Promise.all([readRoster({ text, page, isArchived }), listLeftPacks(), listRenewals()]),
  );
  if (!read) return <AwayPage />;
  const [roster, leftPacks, renewals] = read.value;
  return <RosterPage roster={roster} text={text} isInArchive={isArchived} leftPacks={leftPacks} renewals={renewals} />;
}
