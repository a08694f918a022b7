'use client';

import { useEffect, useState } from 'react';
import type { CharacterView } from '@/contract/character-view';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';

/**
 * Other characters by id, with the fit to a definition where they have one, else to the studio's own. What is not there
 * yet, or no more, is missing.
 * @param version changes when they must be fetched again.
 */
export function useCharacters(
  ids: readonly string[],
  definition: string,
  version = '',
): ReadonlyMap<string, CharacterView> {
  const [held, setHeld] = useState<ReadonlyMap<string, CharacterView>>(new Map());
  const wanted = [...new Set(ids)].sort().join();
  useEffect(() => {
    let isGone = false;
    const list = wanted === '' ? [] : wanted.split(',');
    void Promise.all(list.map((id) => fetchOne(id, definition))).then((found) => {
      if (!isGone) setHeld(new Map(found.flatMap((view) => (view ? [[view.id, view] as const] : []))));
    });
    return () => {
      isGone = true;
    };
  }, [wanted, definition, version]);
  return held;
}

async function fetchOne(characterId: string, definition: string): Promise<CharacterView | null> {
  const path = { characterId };
  const call = (query: { definition?: string }) =>
    outcomeOf(api.GET('/api/characters/{characterId}', { params: { path, query } }), 'character');
  const named = await call({ definition });
  if (named.ok) return named.data;
  const usual = await call({});
  return usual.ok ? usual.data : null;
}
