'use client';

import { useState } from 'react';
import { MOST_ARM_OFFSET_DEG } from '@/core/fit/actions/set-arm-offset';
import type { ArmClearance } from '@/core/posture/clearance';
import { useCharacter } from '../character/character-context';

/** How far the arms are held away in every motion: a layer of its own, which leaves the reference pose alone. */
export function ArmOffsetForm({ clearance }: { clearance: readonly ArmClearance[] }) {
  const { fit, act } = useCharacter();
  const kept = fit.state.layers.armOffsetDeg;
  const proposed = (side: 'left' | 'right') => clearance.find((arm) => arm.side === side)?.offsetDeg ?? 0;
  const key = kept ? `${kept.left} ${kept.right}` : 'none';
  return (
    <OffsetFields
      key={`${key} ${proposed('left')} ${proposed('right')}`}
      start={kept ?? { left: proposed('left'), right: proposed('right') }}
      isKept={kept !== null}
      onKeep={(offset) => act({ kind: 'set-arm-offset', offset })}
      onRemove={() => act({ kind: 'set-arm-offset', offset: null })}
    />
  );
}

interface OffsetFieldsProps {
  readonly start: { readonly left: number; readonly right: number };
  readonly isKept: boolean;
  readonly onKeep: (offset: { left: number; right: number }) => void;
  readonly onRemove: () => void;
}

function OffsetFields({ start, isKept, onKeep, onRemove }: OffsetFieldsProps) {
  const [offset, setOffset] = useState(start);
  const isSame = isKept && offset.left === start.left && offset.right === start.right;
  const isNothing = offset.left === 0 && offset.right === 0;
  return (
    <form
      className="mt-1.5 flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep(offset);
      }}
    >
      <span>Hold away in motions:</span>
      {(['left', 'right'] as const).map((side) => (
        <label key={side} className="flex items-center gap-1">
          {side}
          <input
            type="number"
            className="input w-16 tabular-nums input-xs"
            min={0}
            max={MOST_ARM_OFFSET_DEG}
            step="any"
            value={offset[side]}
            onChange={(event) => {
              const value = event.target.valueAsNumber;
              setOffset({
                ...offset,
                [side]: Number.isFinite(value) ? Math.max(0, Math.min(MOST_ARM_OFFSET_DEG, value)) : 0,
              });
            }}
          />
          °
        </label>
      ))}
      <button className="btn btn-xs" disabled={isSame || (isNothing && !isKept)}>
        {isKept ? 'Change' : 'Keep'}
      </button>
      {isKept && (
        <button type="button" className="btn btn-ghost btn-xs" onClick={onRemove}>
          Remove
        </button>
      )}
    </form>
  );
}
