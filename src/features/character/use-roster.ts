'use client';

import { useEffect, useState } from 'react';
import type { RosterRow } from '@/contract/character-view';

/** The characters changed last, without archived ones, for choosing one from; empty until they are fetched. */
export function useRoster(): readonly RosterRow[] {
  const [roster, setRoster] = useState<readonly RosterRow[]>([]);
  useEffect(() => {
    let isGone = false;
    fetch('/api/characters?archived=false&size=500')
      .then((response) => response.json())
      .then(
        ({ characters }: { characters: RosterRow[] }) => {
          if (!isGone) setRoster(characters);
        },
        () => undefined,
      );
    return () => {
      isGone = true;
    };
  }, []);
  return roster;
}
