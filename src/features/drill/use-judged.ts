import { useEffect, useState } from 'react';
import { drillLimitsOf } from '@/core/profile/profile';
import type { DrillJudged } from '@/workers/browser/drill-judged';
import { useCharacter } from '../character/character-context';
import type { Carried } from './use-carried';

export interface JudgedState {
  /** The last that is there of the motion that is wanted; it may be older than what is played. */
  readonly judged: DrillJudged | null;
  readonly isOld: boolean;
  readonly hasFailed: boolean;
}

interface Held {
  readonly key: string;
  readonly motionId: string;
  readonly judged: DrillJudged | null;
}

/**
 * Measures what is played, once it has settled.
 * @param wanted the motion that is asked for: numbers of another one are not shown under its name.
 */
export function useJudged(carried: Carried | null, wanted: string | null): JudgedState {
  const { profile } = useCharacter();
  const [held, setHeld] = useState<Held | null>(null);
  useEffect(() => {
    if (!carried) return;
    let isGone = false;
    const { key, motionId } = carried;
    const timer = setTimeout(() => {
      carried.judge(drillLimitsOf(profile)).then(
        (judged) => !isGone && setHeld({ key, motionId, judged }),
        () => !isGone && setHeld({ key, motionId, judged: null }),
      );
    }, SETTLED_MS);
    return () => {
      isGone = true;
      clearTimeout(timer);
    };
  }, [carried, profile]);
  // While another motion is being carried the one before plays on, and its numbers are not this one's.
  const isOther = held !== null && held.motionId !== wanted;
  const isOld = carried !== null && (isOther || held?.key !== carried.key);
  return {
    judged: isOther ? null : (held?.judged ?? null),
    isOld,
    hasFailed: !isOld && held !== null && held.judged === null,
  };
}

/** While a slider is moved nothing is judged. */
const SETTLED_MS = 400;
