'use client';

import { ROOT_COMPONENTS, type RootComponent } from '@/core/motion/carry-options';
import { wayNumbers, type RootWay } from '@/core/motion/root-way';
import { NumberField } from '@/ui/NumberField';
import { capitalised } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { Choice } from '@/ui/Choice';
import type { CapsuleSize } from './capsule';
import { writeDrill } from './use-drill-address';

/** What can be set, with the bounds that a fit holds. */
const SIZES = [
  { of: 'radius', label: 'Radius', min: 0.01, max: 50 },
  { of: 'height', label: 'Height', min: 0.02, max: 200 },
] as const;

interface CapsuleChoiceProps {
  /** Components that it follows; null while it is not shown. */
  readonly components: readonly RootComponent[] | null;
  /** What the motion's travel gives the root; taken up when the capsule is first shown. */
  readonly usual: readonly RootComponent[];
  readonly size: CapsuleSize;
  readonly way: RootWay | null;
}

/** The capsule that a game moves: which of the travel it follows, how large it is, and what that comes to. */
export function CapsuleChoice({ components, usual, size, way }: CapsuleChoiceProps) {
  const { fit, act } = useCharacter();
  const numbers = components && way && wayNumbers(way, components);
  const resize = (capsule: CapsuleSize | null) => act({ kind: 'set-carrying', change: { capsule } });
  return (
    <div className="flex items-center gap-1">
      <Choice
        isOn={components !== null}
        title="The capsule that a game moves the character by"
        onClick={() => writeDrill({ capsule: components ? null : usual })}
      >
        Capsule
      </Choice>
      {components && (
        <details className="relative">
          <summary className="btn btn-ghost btn-xs">
            {components.length === 0 ? 'in place' : components.join(', ')}
          </summary>
          <div className="absolute top-7 right-0 z-20 grid w-64 gap-2 rounded-box border border-base-300 bg-base-100 p-3 shadow-md">
            <fieldset className="flex gap-1">
              <legend className="quiet">Follows</legend>
              {ROOT_COMPONENTS.map((each) => (
                <Choice
                  key={each}
                  isOn={components.includes(each)}
                  onClick={() =>
                    writeDrill({
                      capsule: ROOT_COMPONENTS.filter((other) => (other === each) !== components.includes(other)),
                    })
                  }
                >
                  {capitalised(each)}
                </Choice>
              ))}
            </fieldset>
            {SIZES.map(({ of, label, min, max }) => (
              <label key={of} className="flex items-center gap-2">
                <span className="flex-1">{label}</span>
                <NumberField
                  label={`${label} of the capsule, metres`}
                  className="w-20"
                  min={min}
                  max={max}
                  step={0.01}
                  value={size[of]}
                  onChange={(metres) => resize({ ...size, [of]: metres })}
                />
                m
              </label>
            ))}
            {fit.state.carrying.capsule && (
              <button className="btn btn-ghost btn-xs" onClick={() => resize(null)}>
                As large as the body
              </button>
            )}
          </div>
        </details>
      )}
      {numbers && (
        <span className="quiet whitespace-nowrap tabular-nums">
          {numbers.lengthMetres.toFixed(2)} m · turn {numbers.turnDeg.toFixed(0)}° · rise{' '}
          {(numbers.riseMetres * 100).toFixed(0)} cm
        </span>
      )}
    </div>
  );
}
