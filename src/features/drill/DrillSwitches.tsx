'use client';

import { useState, type ReactNode } from 'react';
import { NumberField } from '@/ui/NumberField';
import { capitalised } from '@/ui/text';
import { Choice } from '@/ui/Choice';
import { useRoster } from '../character/use-roster';
import { MOST_OTHERS, SOURCE_PLACES, writeDrill, type DrillAddress } from './use-drill-address';

interface DrillSwitchesProps {
  readonly address: DrillAddress;
  readonly characterId: string;
  /** Further ones, at the far end. */
  readonly children: ReactNode;
}

/** What stands beside the character: the source, other characters, how far off; whether the view follows. */
export function DrillSwitches({ address, characterId, children }: DrillSwitchesProps) {
  const { source, gap, follows, others } = address;
  return (
    <div className="flex h-8 shrink-0 items-center gap-4 border-b border-base-300 bg-base-100 px-3 text-[13px]">
      <fieldset className="flex gap-1">
        <legend className="sr-only">Source</legend>
        <span className="quiet py-0.5">Source</span>
        {SOURCE_PLACES.map((place) => (
          <Choice key={place} isOn={source === place} onClick={() => writeDrill({ source: place })}>
            {capitalised(place)}
          </Choice>
        ))}
      </fieldset>
      {(source === 'beside' || others.length > 0) && (
        <div className="quiet flex items-center gap-1.5">
          Gap
          <input
            type="range"
            aria-label="Gap between the figures, metres"
            className="range w-16 range-xs"
            min={0}
            max={4}
            step={0.1}
            value={Math.min(4, gap)}
            onChange={(event) => writeDrill({ gap: Number(event.target.value) })}
          />
          <NumberField
            label="Gap in metres"
            className="w-16"
            min={0}
            max={20}
            step={0.1}
            value={gap}
            onChange={(metres) => writeDrill({ gap: metres })}
          />
          m
        </div>
      )}
      <Choice isOn={follows} onClick={() => writeDrill({ follows: !follows })}>
        Follow the hips
      </Choice>
      <OthersChoice others={others} characterId={characterId} />
      <div className="ml-auto flex items-center gap-4">{children}</div>
    </div>
  );
}

/** Other characters in the same motion, at most five. */
function OthersChoice({ others, characterId }: { others: readonly string[]; characterId: string }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <details className="relative" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary
        className={`cursor-pointer list-none px-1.5 ${others.length > 0 ? 'font-semibold text-primary' : 'quiet'}`}
      >
        Others{others.length > 0 && ` ${others.length}`}
      </summary>
      <div className="absolute top-7 left-0 z-20 max-h-72 w-60 overflow-auto rounded-box border border-base-300 bg-base-100 p-2 shadow-md">
        {isOpen && <OthersList others={others} characterId={characterId} />}
      </div>
    </details>
  );
}

function OthersList({ others, characterId }: { others: readonly string[]; characterId: string }) {
  const candidates = useRoster().filter(
    ({ id, isHumanoid, kind }) => id !== characterId && isHumanoid && kind !== 'motion',
  );
  if (candidates.length === 0) return <p className="quiet">No other humanoid is in the roster.</p>;
  return candidates.map(({ id, name }) => (
    <label key={id} className="flex items-center gap-2 py-0.5">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        checked={others.includes(id)}
        disabled={!others.includes(id) && others.length >= MOST_OTHERS}
        onChange={(event) =>
          writeDrill({ others: event.target.checked ? [...others, id] : others.filter((each) => each !== id) })
        }
      />
      <span className="truncate">{name}</span>
    </label>
  ));
}
