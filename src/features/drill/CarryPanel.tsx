'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import {
  CARRYING_PRESETS,
  SHIFT_POLICIES,
  type Carrying,
  type OffsetLayer,
  type ShiftPolicy,
} from '@/core/motion/carry-options';
import { TURN_AXES, type TurnAxis } from '@/core/posture/turn-roles';
import { NumberField } from '@/ui/NumberField';
import { movedTo, OrderButtons } from '@/ui/OrderButtons';
import { newId } from '@/ui/new-id';
import type { DrillInfo } from '@/workers/browser/drill.worker';
import { useCharacter } from '../character/character-context';
import { AXIS_TEXT } from './axis-text';
import { BearingPoints } from './BearingPoints';
import { CorrectiveTable } from './CorrectiveTable';
import { longText } from './FeetChoice';

const POLICY_TEXT: Readonly<Record<ShiftPolicy, string>> = {
  keep: 'keeps its length',
  ratio: 'slides, by the ratio of the limbs',
  copy: 'slides, in metres of the source',
};

/** How motions are carried to this character, and what is laid on top of all of them. */
export function CarryPanel({ info }: { info: DrillInfo | null }) {
  const { definition, fit, act, character } = useCharacter();
  const [isOpen, setOpen] = useState(false);
  const { carrying, layers } = fit.state;
  const set = (change: Partial<Carrying>) => act({ kind: 'set-carrying', change });
  const preset = CARRYING_PRESETS.find(({ sets }) =>
    (Object.keys(sets) as (keyof typeof sets)[]).every(
      (key) => JSON.stringify(sets[key]) === JSON.stringify(carrying[key]),
    ),
  );
  const arms = layers.armOffsetDeg;
  const mapped = definition.roles.filter(({ id }) => fit.state.assignments[id]);
  const twist = info?.figures[0]?.report.twist ?? [];
  return (
    <section aria-label="How it is carried" className="px-4 py-2 text-[13px]">
      <div className="flex items-center gap-2">
        <h2 className="text-sm font-semibold">Carried as to a</h2>
        <select
          aria-label="Kind of body"
          className="select flex-1 select-xs"
          value={preset?.id ?? ''}
          title={preset?.note}
          onChange={(event) => {
            const next = CARRYING_PRESETS.find(({ id }) => id === event.target.value);
            if (next) set(next.sets);
          }}
        >
          {!preset && <option value="">body of its own</option>}
          {CARRYING_PRESETS.map(({ id, label }) => (
            <option key={id} value={id}>
              {label.toLowerCase()}
            </option>
          ))}
        </select>
        <button className="btn btn-ghost btn-xs" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? 'Less' : 'More'}
        </button>
      </div>
      {info?.figures[0] && carrying.grounding !== 'leave' && (
        <>
          <p className="quiet mt-1">{longText(info.figures[0].ground)}</p>
          <BearingPoints points={info.figures[0].bearing} />
        </>
      )}
      {isOpen && (
        <div className="mt-1.5 grid max-h-64 gap-1.5 overflow-auto">
          <RatioChoice
            label="Hips up and down"
            value={carrying.hipsVertical}
            onChange={(hipsVertical) => set({ hipsVertical })}
          />
          <RatioChoice
            label="Hips along"
            value={carrying.hipsHorizontal}
            onChange={(hipsHorizontal) => set({ hipsHorizontal })}
          />
          <PolicyChoice label="Joints" value={carrying.shifts} onChange={(shifts) => set({ shifts })} />
          {Object.entries(carrying.roleShifts).map(([role, policy]) => (
            <PolicyChoice
              key={role}
              label={definition.roles.find(({ id }) => id === role)?.label ?? role}
              value={policy}
              onChange={(next) => set({ roleShifts: { ...carrying.roleShifts, [role]: next } })}
              onRemove={() => {
                const { [role]: _gone, ...rest } = carrying.roleShifts;
                set({ roleShifts: rest });
              }}
            />
          ))}
          <select
            aria-label="A joint on its own"
            className="select w-full select-xs"
            value=""
            onChange={(event) => set({ roleShifts: { ...carrying.roleShifts, [event.target.value]: 'ratio' } })}
          >
            <option value="">Another rule for one joint …</option>
            {mapped
              .filter(({ id }) => id !== 'hips' && !(id in carrying.roleShifts))
              .map(({ id, label }) => (
                <option key={id} value={id}>
                  {label}
                </option>
              ))}
          </select>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={carrying.hasTwist}
              onChange={(event) => set({ hasTwist: event.target.checked })}
            />
            twist bones turn with their segment
          </label>
          {twist.map(({ boneIndex, share }) => (
            <label key={boneIndex} className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate font-mono text-xs">{character.rig.bones[boneIndex].name}</span>
              <input
                key={share}
                type="number"
                aria-label={`Share of ${character.rig.bones[boneIndex].name}`}
                className="input w-18 input-xs"
                min={0}
                max={1}
                step={0.05}
                defaultValue={Number(share.toFixed(3))}
                onBlur={(event) => {
                  const next = Number(event.target.value);
                  if (next >= 0 && next <= 1 && Math.abs(next - share) > 5e-4)
                    set({ twistShares: { ...carrying.twistShares, [boneIndex]: next } });
                }}
              />
            </label>
          ))}
        </div>
      )}
      <h3 className="mt-1.5 font-semibold">
        Adjustments{' '}
        <span className="quiet font-normal">
          on all motions, {(arms ? 1 : 0) + carrying.offsets.filter(({ isOn }) => isOn).length} on
        </span>
      </h3>
      <ul className="grid max-h-32 gap-0.5 overflow-auto">
        {arms && (
          <li className="flex items-center gap-1.5">
            <span className="flex-1">
              Arms held away, left {arms.left}°, right {arms.right}°
            </span>
            <button
              className="btn btn-square btn-ghost btn-xs"
              aria-label="Take the arms' offset off"
              onClick={() => act({ kind: 'set-arm-offset', offset: null })}
            >
              <X aria-hidden className="size-3.5" />
            </button>
          </li>
        )}
        {carrying.offsets.map((offset, at) => (
          <OffsetRow
            key={offset.id}
            offset={offset}
            label={definition.roles.find(({ id }) => id === offset.role)?.label ?? offset.role}
            onChange={(next) => set({ offsets: carrying.offsets.map((each) => (each === offset ? next : each)) })}
            onRemove={() => set({ offsets: carrying.offsets.filter((each) => each !== offset) })}
            onMove={(by) => set({ offsets: movedTo(carrying.offsets, at, at + by) })}
            isFirst={at === 0}
            isLast={at === carrying.offsets.length - 1}
          />
        ))}
      </ul>
      <select
        aria-label="Adjust a role"
        className="select mt-1 w-full select-xs"
        value=""
        onChange={(event) =>
          set({
            offsets: [
              ...carrying.offsets,
              { id: newId(), role: event.target.value, about: 'hinge', degrees: 5, isOn: true },
            ],
          })
        }
      >
        <option value="">Add a constant turn of a role …</option>
        {mapped.map(({ id, label }) => (
          <option key={id} value={id}>
            {label}
          </option>
        ))}
      </select>
      {(character.rig.mesh.morphTargetCount > 0 || carrying.correctives.length > 0) && (
        <CorrectiveTable
          correctives={carrying.correctives}
          roles={mapped}
          onChange={(correctives) => set({ correctives })}
        />
      )}
    </section>
  );
}

interface OffsetRowProps {
  readonly offset: OffsetLayer;
  readonly label: string;
  readonly isFirst: boolean;
  readonly isLast: boolean;
  readonly onChange: (offset: OffsetLayer) => void;
  readonly onRemove: () => void;
  readonly onMove: (by: -1 | 1) => void;
}

function OffsetRow({ offset, label, isFirst, isLast, onChange, onRemove, onMove }: OffsetRowProps) {
  return (
    <li className="flex items-center gap-1">
      <input
        type="checkbox"
        aria-label={`${label} on`}
        className="checkbox checkbox-xs"
        checked={offset.isOn}
        onChange={(event) => onChange({ ...offset, isOn: event.target.checked })}
      />
      <span className="min-w-0 flex-1 truncate">{label}</span>
      <select
        aria-label={`${label} turns`}
        className="select w-22 select-xs"
        value={offset.about}
        onChange={(event) => onChange({ ...offset, about: event.target.value as TurnAxis })}
      >
        {TURN_AXES.map((axis) => (
          <option key={axis} value={axis}>
            {AXIS_TEXT[axis]}
          </option>
        ))}
      </select>
      <NumberField
        label={`${label}, degrees`}
        className="w-16"
        min={-180}
        max={180}
        step={1}
        value={offset.degrees}
        onChange={(degrees) => onChange({ ...offset, degrees })}
      />
      <OrderButtons
        name={label}
        removes={`the turn of ${label}`}
        isFirst={isFirst}
        isLast={isLast}
        onMove={onMove}
        onRemove={onRemove}
      />
    </li>
  );
}

interface RatioChoiceProps {
  readonly label: string;
  readonly value: Carrying['hipsVertical'];
  readonly onChange: (value: Carrying['hipsVertical']) => void;
}

function RatioChoice({ label, value, onChange }: RatioChoiceProps) {
  return (
    <label className="flex items-center gap-2">
      <span className="flex-1">{label}</span>
      <select
        className="select w-40 select-xs"
        value={value}
        onChange={(event) => onChange(event.target.value as Carrying['hipsVertical'])}
      >
        <option value="legs">by the legs</option>
        <option value="metres">metres of the source</option>
      </select>
    </label>
  );
}

interface PolicyChoiceProps {
  readonly label: string;
  readonly value: ShiftPolicy;
  readonly onChange: (value: ShiftPolicy) => void;
  readonly onRemove?: () => void;
}

function PolicyChoice({ label, value, onChange, onRemove }: PolicyChoiceProps) {
  return (
    <div className="flex items-center gap-2">
      <span className="min-w-0 flex-1 truncate">{label}</span>
      <select
        aria-label={`${label} along their bones`}
        className="select w-40 select-xs"
        value={value}
        onChange={(event) => onChange(event.target.value as ShiftPolicy)}
      >
        {SHIFT_POLICIES.map((policy) => (
          <option key={policy} value={policy}>
            {POLICY_TEXT[policy]}
          </option>
        ))}
      </select>
      {onRemove && (
        <button
          className="btn btn-square btn-ghost btn-xs"
          aria-label={`No rule of its own for ${label}`}
          onClick={onRemove}
        >
          <X aria-hidden className="size-3.5" />
        </button>
      )}
    </div>
  );
}
