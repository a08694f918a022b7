'use client';

import { useCallback, useMemo, useState } from 'react';
import { useCharacter } from '../character/character-context';
import { useSelection } from '../character/use-selection';

/** Roles that are picked: the one in the address, and those picked along with it. */
export function usePicked() {
  const { fit } = useCharacter();
  const { role, select } = useSelection();
  const [more, setMore] = useState<readonly string[]>([]);
  const picked = useMemo(() => (role === null ? [] : [role, ...more.filter((each) => each !== role)]), [role, more]);
  const { assignments } = fit.state;

  const pick = useCallback(
    (next: string, isMore: boolean) => {
      if (!isMore || role === null) {
        setMore([]);
        select({ role: next, bone: assignments[next]?.boneIndex ?? null });
      } else if (next === role) {
        // The first of those that are left takes the place of the one that is let go.
        const [heir = null, ...others] = more;
        setMore(others);
        select({ role: heir, bone: heir === null ? null : (assignments[heir]?.boneIndex ?? null) });
      } else setMore(more.includes(next) ? more.filter((each) => each !== next) : [...more, next]);
    },
    [role, more, assignments, select],
  );
  const pickBone = (bone: number | null, isMore: boolean) => {
    const held = Object.entries(assignments).find(([, assignment]) => assignment.boneIndex === bone)?.[0] ?? null;
    if (held !== null) pick(held, isMore);
    else if (!isMore) {
      setMore([]);
      select({ bone, role: null });
    }
  };
  return { picked, pick, pickBone };
}
