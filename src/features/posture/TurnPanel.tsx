'use client';

import { useMemo, useState } from 'react';
import { roleOf, sideOfRole } from '@/core/definition/definition';
import { turnAngle } from '@/core/posture/turn-angle';
import { TURN_AXES, type TurnAxis } from '@/core/posture/turn-roles';
import { computeWorlds, type RigPose } from '@/core/rig/pose';
import { Key } from '@/ui/Key';
import { signedDegrees } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { SCOPE_TEXT, TURN_SCOPES, type TurnScope } from './turn-scope';
import { useAlignInput } from './use-align-input';
import type { Turning } from './use-turning';

const AXIS_TEXT: Readonly<Record<TurnAxis, { readonly label: string; readonly title: string }>> = {
  hinge: { label: 'Bend', title: 'About the hinge: elbows and knees fold, fingers curl' },
  bone: { label: 'Twist', title: 'About the segment itself' },
  left: { label: 'Swing', title: "About the body's left axis: ahead and back" },
  front: { label: 'Raise', title: "About the body's front axis: up and down" },
  up: { label: 'In, out', title: "About the body's up axis: ahead of the chest and out again" },
};
/** From where the angle about an axis is counted. */
const ANGLE_TEXT: Readonly<Record<TurnAxis, string>> = {
  hinge: 'How far it is bent against the segment above',
  bone: '',
  left: 'Degrees behind straight down; minus is ahead',
  front: 'Degrees above the horizontal',
  up: 'Degrees ahead of straight out to the side',
};
const STEPS = [1, 5, 10];
/** A step may be as small as angles are shown. */
const LEAST_STEP = 0.1;

interface TurnPanelProps {
  readonly picked: readonly string[];
  readonly turning: Turning;
  readonly pose: RigPose;
}

/** What is turned, about what, and by how much. */
export function TurnPanel({ picked, turning, pose }: TurnPanelProps) {
  const { definition } = useCharacter();
  const input = useAlignInput();
  const { about, scope, isBothSides, step, roles, live, set, turn, mirror } = turning;
  const [isOwnStep, setOwnStep] = useState(false);
  const known = picked.filter((role) => definition.roles.some(({ id }) => id === role));
  const [role = null] = known;
  const side = role && sideOfRole(definition, role);
  const angle = useMemo(
    () =>
      role === null || !input.roleBones.has(role)
        ? null
        : turnAngle({ ...input, worlds: computeWorlds(input.rig, pose) }, role, about),
    [input, pose, role, about],
  );
  if (role === null) {
    return (
      <p className="quiet px-4 py-2 text-[13px]">
        Pick a role or a bone to turn it by hand. With <Key>Ctrl</Key> more are picked along.
      </p>
    );
  }
  const degrees = angle === null ? null : (angle * 180) / Math.PI;
  return (
    <section aria-label="Turn by hand" className="grid gap-1.5 px-4 py-2 text-[13px]">
      <div className="flex flex-wrap items-center gap-2">
        <span className="font-semibold">
          {roleOf(definition, role).label}
          {known.length > 1 && ` and ${known.length - 1} more`}
        </span>
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
          {live && live.degrees !== 0
            ? signedDegrees(live.degrees, true)
            : roles.length > 1
              ? `${roles.length} bones`
              : ''}
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
        {degrees !== null && (
          <NumberForm
            key={`${role} ${about}`}
            label="Angle"
            button="Set"
            placeholder={(Math.round(degrees * 10) / 10 + 0).toFixed(1)}
            title={ANGLE_TEXT[about]}
            isEnabled={roles.length === 1}
            onSubmit={(wanted) => turn(Math.round((wanted - degrees) * 1e4) / 1e4)}
          />
        )}
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
          className="select w-20 select-xs"
          value={isOwnStep ? 'own' : step}
          onChange={(event) => {
            setOwnStep(event.target.value === 'own');
            if (event.target.value !== 'own') set({ step: Number(event.target.value) });
          }}
        >
          {STEPS.map((each) => (
            <option key={each} value={each}>
              {each}°
            </option>
          ))}
          <option value="own">other …</option>
        </select>
        {isOwnStep && (
          <input
            aria-label="Degrees of a step of one's own"
            type="number"
            className="input w-16 tabular-nums input-xs"
            min={LEAST_STEP}
            max={90}
            step="any"
            defaultValue={step}
            onChange={(event) => {
              const own = event.target.valueAsNumber;
              if (own >= LEAST_STEP && own <= 90) set({ step: own });
            }}
          />
        )}
        <NumberForm
          label="Degrees of one's own"
          button="Turn"
          placeholder="12.5"
          isEnabled
          onSubmit={(own) => {
            if (own !== 0) turn(own);
          }}
        />
        <button className="btn ml-auto btn-xs" disabled={!side} onClick={mirror}>
          Mirror to the {side === 'left' ? 'right' : 'left'}
        </button>
      </div>
      <p className="quiet">
        <Key>←</Key> <Key>→</Key> Turn by a step, held for more · <Key>M</Key> Mirror · drag the tab on an arc;{' '}
        <Key>Shift</Key> between the steps
      </p>
    </section>
  );
}

interface NumberFormProps {
  readonly label: string;
  readonly button: string;
  readonly placeholder: string;
  readonly title?: string;
  readonly isEnabled: boolean;
  readonly onSubmit: (degrees: number) => void;
}

/** A number of degrees and the button that uses it. */
function NumberForm({ label, button, placeholder, title, isEnabled, onSubmit }: NumberFormProps) {
  const [text, setText] = useState('');
  const degrees = Number(text.trim().replace(',', '.').replace('−', '-'));
  const isGood = text.trim() !== '' && Number.isFinite(degrees) && Math.abs(degrees) <= 360;
  return (
    <form
      className="flex items-center gap-1"
      title={title}
      onSubmit={(event) => {
        event.preventDefault();
        if (!isGood || !isEnabled) return;
        onSubmit(degrees);
        setText('');
      }}
    >
      <input
        aria-label={label}
        className="input w-15 px-1.5 tabular-nums input-xs"
        inputMode="decimal"
        placeholder={placeholder}
        maxLength={8}
        disabled={!isEnabled}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <button className="btn btn-xs" disabled={!isGood || !isEnabled}>
        {button}
      </button>
    </form>
  );
}
