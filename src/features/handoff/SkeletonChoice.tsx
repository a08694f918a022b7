'use client';

import { useCharacter } from '../character/character-context';

/** Whether the character is written onto the skeleton that the profile ships, and whose lengths its bones have there. */
export function SkeletonChoice() {
  const { fit, profile, act } = useCharacter();
  const { skeleton } = profile;
  if (!skeleton) return null;
  const { conform } = fit.state.handoff;
  return (
    <label className="mt-3 flex items-center gap-2 text-[13px]">
      Skeleton
      <select
        aria-label="Skeleton that is written"
        className="select w-auto select-sm"
        value={conform?.lengths ?? ''}
        disabled={fit.state.isClosed}
        onChange={(event) => {
          const lengths = event.target.value as 'own' | 'skeleton' | '';
          act({ kind: 'set-handoff', change: { conform: lengths === '' ? null : { lengths } } });
        }}
      >
        <option value="">the character&rsquo;s own</option>
        <option value="own">{skeleton.label}, with the character&rsquo;s lengths</option>
        <option value="skeleton">{skeleton.label}, with its lengths</option>
      </select>
    </label>
  );
}
