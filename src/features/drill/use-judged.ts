import { useEffect, useState } from 'react';
import { drillLimitsOf } from '@/core/profile/profile';
import type { DrillJudged } from '@/workers/browser/drill-judged';
import { useCharacter } from '../character/character-context';
import type { Carried } from './use-carried';

export interface JudgedState {
  /** The last that is there; it may be older than what is played. */
  readonly judged: DrillJudged | null;
  readonly isOld: boolean;
  readonly hasFailed: boolean;
}

/** Measures what is played, once it has settled. */
export function useJudged(carried: Carried | null): JudgedState {
  const { profile } = useCharacter();
  const [held, setHeld] = useState<{ readonly key: string; readonly judged: DrillJudged | null } | null>(null);
  useEffect(() => {
    if (!carried) return;
    let isGone = false;
    const { key } = carried;
    const timer = setTimeout(() => {
      carried.judge(drillLimitsOf(profile)).then(
        (judged) => !isGone && setHeld({ key, judged }),
        () => !isGone && setHeld({ key, judged: null }),
      );
    }, SETTLED_MS);
    return () => {
      isGone = true;
      clearTimeout(timer);
    };
  }, [carried, profile]);
  const isOld = carried !== null && held?.key !== carried.key;
  return { judged: held?.judged ?? null, isOld, hasFailed: !isOld && held !== null && held.judged === null };
}

/** While a slider is moved nothing is judged. */
const SETTLED_MS = 400;
