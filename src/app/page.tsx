import { AwayPage } from '@/features/away/AwayPage';
import { RosterPage } from '@/features/roster/RosterPage';
import { listRoster } from '@/server/characters/read-characters';
import { listLeftPacks } from '@/server/handoffs/handoff-repository';
import { whileDatabaseIsThere } from '@/server/pages';

export const dynamic = 'force-dynamic';

export default async function Page() {
  const read = await whileDatabaseIsThere(() => Promise.all([listRoster(), listLeftPacks()]));
  if (!read) return <AwayPage />;
  const [rows, leftPacks] = read.value;
  return <RosterPage rows={rows} leftPacks={leftPacks} />;
}
