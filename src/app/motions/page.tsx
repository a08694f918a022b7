import { AwayPage } from '@/features/away/AwayPage';
import { ShelfPage } from '@/features/shelf/ShelfPage';
import { whileDatabaseIsThere } from '@/server/http/pages';
import { readShelf } from '@/server/motions/read-shelf';

export const dynamic = 'force-dynamic';

export default async function Page() {
  const read = await whileDatabaseIsThere(readShelf);
  return read ? <ShelfPage list={read.value} /> : <AwayPage />;
}
