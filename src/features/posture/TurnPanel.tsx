'use client';

import { useState } from 'react';
import { roleOf, sideOfRole } from '@/core/definition/definition';
import { TURN_AXES, type TurnAxis } from '@/core/posture/turn-roles';
import { Key } from '@/ui/Key';
import { useCharacter } from '../character/character-context';
import { SCOPE_TEXT, TURN_SCOPES, type TurnScope } from './turn-scope';
import type { Turning } from './use-turning';

const AXIS_TEXT: Readonly<Record<TurnAxis, { readonly label: string; readonly title: string }>> = {
  hinge: { label: 'Bend', title: 'About the hinge: elbows and knees fold, fingers curl' },
  bone: { label: 'Twist', title: 'About the segment itself' },
  left: { label: 'Swing', title: "About the body's left axis: ahead and back" },
  front: { label: 'Raise', title: "About the body's front axis: up and down" },
  up: { label: 'In, out', title: "About the body's up axis: ahead of the chest and out again" },
};
const STEPS = [1, 5, 10];

/** What is turned, about what, and by how much. */
export function TurnPanel({ role, turning }: { role: string | null; turning: Turning }) {
  const { definition } = useCharacter();
  const { about, scope, isBothSides, step, roles, held, set, turn, mirror } = turning;
  const [own, setOwn] = useState('');
  const known = role !== null && definition.roles.some(({ id }) => id === role) ? role : null;
  const side = known && sideOfRole(definition, known);
  if (!known) return <p className="quiet px-4 pb-2 text-[13px]">Pick a role or a bone to turn it by hand.</p>;
  const degrees = Number(own.replace(',', '.'));
  const isOwn = own.trim() !== '' && Number.isFinite(degrees) && degrees !== 0 && Math.abs(degrees) <= 360;
  return (
    <section aria-label="Turn by hand" className="grid gap-1.5 border-t border-base-300 px-4 py-2 text-[13px]">
      <div className="flex flex-wrap items-center gap-2">
        <span className="font-semibold">{roleOf(definition, known).label}</span>
        <select
          aria-label="What goes along"
          className="select w-40 select-xs"
          value={scope}
          onChange={(event) => set({ scope: event.target.value as TurnScope })}
        >
          {TURN_SCOPES.map((each) => (
            <option key={each} value={each}>
              {SCOPE_TEXT[each]}
            </option>
          ))}
        </select>
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={isBothSides}
            disabled={!side}
            onChange={(event) => set({ isBothSides: event.target.checked })}
          />
          both sides
        </label>
        <span className="quiet ml-auto tabular-nums">
          {held !== 0 ? `${held > 0 ? '+' : '−'}${Math.abs(held)}°` : roles.length > 1 ? `${roles.length} bones` : ''}
        </span>
      </div>
      <div role="group" aria-label="Turn about" className="flex gap-1">
        {TURN_AXES.map((axis) => (
          <button
            key={axis}
            className={`btn btn-xs ${axis === about ? 'btn-primary' : ''}`}
            aria-pressed={axis === about}
            title={AXIS_TEXT[axis].title}
            onClick={() => set({ about: axis })}
          >
            {AXIS_TEXT[axis].label}
          </button>
        ))}
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <button className="btn btn-xs" aria-label={`Turn by −${step} degrees`} onClick={() => turn(-step)}>
          −{step}°
        </button>
        <button className="btn btn-xs" aria-label={`Turn by ${step} degrees`} onClick={() => turn(step)}>
          +{step}°
        </button>
        <select
          aria-label="Degrees of a step"
          className="select w-18 select-xs"
          value={step}
          onChange={(event) => set({ step: Number(event.target.value) })}
        >
          {STEPS.map((each) => (
            <option key={each} value={each}>
              {each}°
            </option>
          ))}
        </select>
        <form
          className="flex items-center gap-1"
          onSubmit={(event) => {
            event.preventDefault();
            if (!isOwn) return;
            turn(degrees);
            setOwn('');
          }}
        >
          <input
            aria-label="Degrees of one's own"
            className="input w-16 tabular-nums input-xs"
            inputMode="decimal"
            placeholder="12.5"
            maxLength={8}
            value={own}
            onChange={(event) => setOwn(event.target.value)}
          />
          <button className="btn btn-xs" disabled={!isOwn}>
            Turn
          </button>
        </form>
        <button className="btn ml-auto btn-xs" disabled={!side} onClick={mirror}>
          Mirror to the {side === 'left' ? 'right' : 'left'}
        </button>
      </div>
      <p className="quiet">
        <Key>←</Key> <Key>→</Key> Turn by a step, held for more · <Key>M</Key> Mirror
      </p>
    </section>
  );
}
