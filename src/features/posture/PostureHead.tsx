'use client';

import { memo } from 'react';
import type { RoleDeviation } from '@/core/posture/measure-posture';
import { useCharacter } from '../character/character-context';

interface PostureHeadProps {
  readonly sentence: string;
  readonly deviations: readonly RoleDeviation[];
  readonly picked: readonly string[];
  /** Whether the posture differs from the file's rest. */
  readonly isChanged: boolean;
}

/** What the posture is, in a sentence, and the two buttons that most characters need no more than. */
export const PostureHead = memo(function PostureHead({ sentence, deviations, picked, isChanged }: PostureHeadProps) {
  const { definition, fit, act } = useCharacter();
  const aligned = deviations.filter(({ alignment }) => alignment !== 'leave');
  const off = aligned.filter(({ isWithin }) => !isWithin);
  const known = picked.filter((role) => definition.roles.some(({ id }) => id === role) && fit.state.assignments[role]);
  return (
    <div className="px-4 pt-3">
      <p className="text-base font-semibold" data-testid="posture-sentence">
        {sentence}
      </p>
      <p className="quiet mt-0.5 text-[13px]">
        {aligned.length === 0
          ? 'No role that could be aligned has a bone.'
          : off.length === 0
            ? `All segments that ${definition.label} aligns are within tolerance of its ${definition.pose}-pose.`
            : `${off.length} of ${aligned.length} aligned segments are outside tolerance of ${definition.label}'s ${definition.pose}-pose.`}
      </p>
      <div className="mt-2 flex items-center gap-2 pb-2">
        <button
          className="btn btn-primary btn-sm"
          disabled={aligned.length === 0}
          onClick={() => act({ kind: 'align-posture' })}
        >
          Align all
        </button>
        <button
          className="btn btn-sm"
          disabled={known.length === 0}
          onClick={() => act({ kind: 'align-posture', roles: known })}
        >
          {known.length > 1 ? `Align these ${known.length}` : 'Align this one'}
        </button>
        <button className="btn btn-ghost btn-sm" disabled={!isChanged} onClick={() => act({ kind: 'reset-posture' })}>
          Reset
        </button>
      </div>
    </div>
  );
});
