import { CharacterParams } from '@/contract/requests';
import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { AwayPage } from '@/features/away/AwayPage';
import { CharacterShell } from '@/features/character/CharacterShell';
import { readCharacter } from '@/server/views/read-characters';
import { whileDatabaseIsThere } from '@/server/http/pages';

export const dynamic = 'force-dynamic';

interface CharacterLayoutProps {
  readonly children: ReactNode;
  readonly params: Promise<{ characterId: string }>;
}

export default async function CharacterLayout({ children, params }: CharacterLayoutProps) {
  const parsed = CharacterParams.safeParse(await params);
  if (!parsed.success) notFound();
  const read = await whileDatabaseIsThere(() => readCharacter(parsed.data.characterId));
  if (!read) return <AwayPage />;
  if (!read.value) notFound();
  return <CharacterShell character={read.value}>{children}</CharacterShell>;
}
