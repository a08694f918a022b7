import { BoardQuery } from '@/contract/board';
import { AwayPage } from '@/features/away/AwayPage';
import { BoardPage } from '@/features/board/BoardPage';
import { readBoard } from '@/server/board/read-board';
import { whileDatabaseIsThere } from '@/server/http/pages';

export const dynamic = 'force-dynamic';

export default async function Page({ searchParams }: { searchParams: Promise<Record<string, string | string[]>> }) {
  const query = BoardQuery.safeParse(await searchParams);
  const { characters, selection } = query.success ? query.data : {};
  const read = await whileDatabaseIsThere(() => readBoard(query.success ? query.data : {}));
  return read ? <BoardPage board={read.value} characters={characters} selection={selection} /> : <AwayPage />;
}
