import { useEffect, useState } from 'react';
import { drillLimitsOf } from '@/core/profile/profile';
import type { DrillWatched } from '@/workers/browser/drill-judged';
import { useCharacter } from '../character/character-context';
import type { Carried } from '../drill/use-carried';

export interface WatchedState {
  /** The last that is there; it may be older than what is played. */
  readonly watched: DrillWatched | null;
  readonly isOld: boolean;
  readonly hasFailed: boolean;
}

/** Measures every pose that a motion is carried to, as soon as it is carried. */
export function useWatched(carried: Carried | null): WatchedState {
  const { profile } = useCharacter();
  const [held, setHeld] = useState<{ readonly key: string; readonly watched: DrillWatched | null } | null>(null);
  useEffect(() => {
    if (!carried) return;
    let isGone = false;
    const { key } = carried;
    carried.watch(drillLimitsOf(profile)).then(
      (watched) => !isGone && setHeld({ key, watched }),
      () => !isGone && setHeld({ key, watched: null }),
    );
    return () => {
      isGone = true;
    };
  }, [carried, profile]);
  const isOld = carried !== null && held?.key !== carried.key;
  return { watched: held?.watched ?? null, isOld, hasFailed: !isOld && held !== null && held.watched === null };
}
