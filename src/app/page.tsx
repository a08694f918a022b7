import { RosterPage } from '@/features/roster/RosterPage';
import { listRoster } from '@/server/characters/read-characters';

export const dynamic = 'force-dynamic';

export default async function Page() {
  return <RosterPage rows={await listRoster()} />;
}
