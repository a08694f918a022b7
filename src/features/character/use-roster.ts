'use client';

import { useEffect, useState } from 'react';
import type { RosterRow } from '@/core/character/character-view';

/** All characters that are not archived, for choosing one from; empty until they are fetched. */
export function useRoster(): readonly RosterRow[] {
  const [roster, setRoster] = useState<readonly RosterRow[]>([]);
  useEffect(() => {
    let isGone = false;
    fetch('/api/characters').then((response) => response.json()).then(({ characters }: { characters: RosterRow[] }) => { if (!isGone) setRoster(characters.filter((row) => !row.isArchived)); }, () => undefined);
    return () => { isGone = true; };
  }, []);
  return roster;
}
