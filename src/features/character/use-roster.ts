'use client';

import { useEffect, useState } from 'react';
import type { RosterRow } from '@/contract/character-view';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';

/** The characters changed last, without archived ones, for choosing one from; empty until they are fetched. */
export function useRoster(): readonly RosterRow[] {
  const [roster, setRoster] = useState<readonly RosterRow[]>([]);
  useEffect(() => {
    let isGone = false;
    const query = { archived: 'false' as const, size: 500 };
    void outcomeOf(api.GET('/api/characters', { params: { query } }), 'roster').then((outcome) => {
      if (!isGone && outcome.ok) setRoster(outcome.data.characters);
    });
    return () => {
      isGone = true;
    };
  }, []);
  return roster;
}
