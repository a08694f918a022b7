'use client';

import Link from 'next/link';
import type { DrillFlag } from '@/core/drill/judge/judge-motion';
import { useCharacter } from '../../character/character-context';
import { stepAddress } from '../../character/step-address';

interface FlagStripProps {
  readonly flag: DrillFlag;
  readonly count: number;
  readonly onNext: () => void;
}

const isFoot = ({ measure }: DrillFlag): boolean => /^(sole|sink|slide)/.test(measure);

/** The flag in focus: what is wrong, and the way to where it is mended. */
export function FlagStrip({ flag, count, onNext }: FlagStripProps) {
  const { character, fit, act } = useCharacter();
  const stepUrl = (step: string): string => stepAddress(character, step);
  return (
    <section
      aria-label="Flag in focus"
      className="flex shrink-0 items-center gap-3 border-t border-base-300 bg-(--accent-wash) px-3 py-1 text-[13px]"
    >
      <p className="min-w-0 flex-1">{flag.sentence}</p>
      {isFoot(flag) && flag.cause !== 'posture' && fit.state.carrying.grounding !== 'plant' && !fit.state.isClosed && (
        <button
          className="btn shrink-0 btn-primary btn-xs"
          onClick={() => act({ kind: 'set-carrying', change: { grounding: 'plant' } })}
        >
          Plant the feet
        </button>
      )}
      {(flag.cause === 'posture' || (flag.cause === 'proportions' && !isFoot(flag))) && (
        <Link className="btn shrink-0 btn-primary btn-xs" href={stepUrl('posture')}>
          Go to the posture
        </Link>
      )}
      {flag.cause === 'mapping' && (
        <Link className="btn shrink-0 btn-primary btn-xs" href={stepUrl('match')}>
          Go to the match
        </Link>
      )}
      <button className="btn shrink-0 btn-ghost btn-xs" onClick={onNext} disabled={count < 2}>
        Next flag <kbd className="kbd kbd-xs">F</kbd>
      </button>
    </section>
  );
}
