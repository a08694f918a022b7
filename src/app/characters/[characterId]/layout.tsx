import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { CharacterShell } from '@/features/character/CharacterShell';
import { readCharacter } from '@/server/characters/read-characters';
import { CharacterParams } from '@/server/http';

export const dynamic = 'force-dynamic';

export default async function CharacterLayout({ children, params }: { children: ReactNode; params: Promise<{ characterId: string }> }) {
  const parsed = CharacterParams.safeParse(await params);
  const character = parsed.success ? await readCharacter(parsed.data.characterId) : null;
  if (!character) notFound();
  return <CharacterShell character={character}>{children}</CharacterShell>;
}
