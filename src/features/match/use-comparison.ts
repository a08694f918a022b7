'use client';

import { useEffect, useMemo, useState } from 'react';
import type { CharacterView } from '@/contract/character-view';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { compareFits, type RoleComparison } from '@/core/fit/compare';
import { useCharacter } from '../character/character-context';

export interface Comparison {
  readonly other: CharacterView | 'loading' | 'failed' | null;
  readonly rows: readonly RoleComparison[];
  /** Roles that differ in more than a name. */
  readonly differing: ReadonlySet<string>;
}

/** The fit beside that of another character; nothing while none is chosen. */
export function useComparison(otherId: string | null): Comparison {
  const { character, definition, fit } = useCharacter();
  const [held, setHeld] = useState<{ id: string; view: CharacterView | 'failed' } | null>(null);
  useEffect(() => {
    if (!otherId) return;
    let isGone = false;
    const call = api.GET('/api/characters/{characterId}', { params: { path: { characterId: otherId } } });
    void outcomeOf(call, 'compare').then((outcome) => {
      if (!isGone) setHeld({ id: otherId, view: outcome.ok ? outcome.data : 'failed' });
    });
    return () => {
      isGone = true;
    };
  }, [otherId]);
  const other = !otherId ? null : held?.id === otherId ? held.view : 'loading';
  return useMemo(() => {
    if (other === null || typeof other === 'string') return { other, rows: [], differing: new Set<string>() };
    const rows = compareFits(definition, { ...character, state: fit.state }, { ...other, state: other.fit.state });
    return {
      other,
      rows,
      differing: new Set(
        rows
          .filter(({ kinds }) => kinds.some((kind) => kind !== 'same' && kind !== 'other name'))
          .map(({ role }) => role),
      ),
    };
  }, [other, character, fit, definition]);
}
