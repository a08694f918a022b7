'use client';

import { useEffect, useMemo, useState } from 'react';
import type { CharacterView } from '@/contract/character-view';
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
    fetch(`/api/characters/${encodeURIComponent(otherId)}`)
      .then(
        async (response) => (response.ok ? ((await response.json()) as CharacterView) : ('failed' as const)),
        () => 'failed' as const,
      )
      .then(
        (view) => {
          if (!isGone) setHeld({ id: otherId, view });
        },
        () => undefined,
      );
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
