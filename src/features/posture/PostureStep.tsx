'use client';

import { useMemo, useState } from 'react';
import { roleOf } from '@/core/definition/definition';
import type { RoleDeviation } from '@/core/posture/measure-posture';
import { degreesText } from '@/ui/text';
import { useListening } from '@/ui/use-listening';
import { useCharacter } from '../character/character-context';
import { CharacterStage } from '../character/CharacterStage';
import { useSelection } from '../character/use-selection';
import { AngleDial } from './AngleDial';
import { TurnPanel } from './TurnPanel';
import { useTurning } from './use-turning';

const FOUR_VIEWS = ['front', 'side', 'top', 'free'] as const;

/** Measured angles, worst first, beside the three flat views and the free one. */
export function PostureStep() {
  useListening('posture');
  const { character, definition, fit, act } = useCharacter();
  const { role, bone, select } = useSelection();
  const [hovered, setHovered] = useState<number | null>(null);
  const [showBefore, setShowBefore] = useState(true);
  const turning = useTurning(role);
  const isChanged = Object.keys(fit.state.posture.rotations).length > 0 || fit.state.posture.shift !== null;
  const sorted = useMemo(() => [...fit.deviations].sort((a, b) => excess(b) - excess(a)), [fit.deviations]);
  const off = sorted.filter((deviation) => deviation.alignment !== 'leave' && !deviation.isWithin);
  const pick = (next: number | null) => {
    const held =
      Object.entries(fit.state.assignments).find(([, assignment]) => assignment.boneIndex === next)?.[0] ?? null;
    select({ bone: next, role: held });
  };
  return (
    <div className="grid h-full min-h-0 grid-cols-[430px_1fr]">
      <main className="flex min-h-0 flex-col border-r border-base-300 bg-base-100">
        <div className="px-4 pt-3">
          <p className="text-base font-semibold" data-testid="posture-sentence">
            {fit.posture.sentence}
          </p>
          <p className="quiet mt-0.5 text-[13px]">
            {off.length === 0
              ? `All segments that ${definition.label} aligns are within tolerance of its ${definition.pose}-pose.`
              : `${off.length} of ${sorted.filter((entry) => entry.alignment !== 'leave').length} aligned segments are outside tolerance of ${definition.label}'s ${definition.pose}-pose.`}
          </p>
          <div className="mt-2 flex items-center gap-2 pb-2">
            <button className="btn btn-primary btn-sm" onClick={() => act({ kind: 'align-posture' })}>
              Align all
            </button>
            <button
              className="btn btn-sm"
              disabled={!role || !definition.roles.some(({ id }) => id === role)}
              onClick={() => role && act({ kind: 'align-posture', roles: [role] })}
            >
              Align this one
            </button>
            <button
              className="btn btn-ghost btn-sm"
              disabled={!isChanged}
              onClick={() => act({ kind: 'reset-posture' })}
            >
              Reset
            </button>
            <label className="ml-auto flex items-center gap-1.5 text-[13px]">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={showBefore}
                onChange={(event) => setShowBefore(event.target.checked)}
              />
              Show original (dashed)
            </label>
          </div>
        </div>
        <TurnPanel role={role} turning={turning} />
        <div className="min-h-0 flex-1 overflow-auto">
          <table className="w-full text-[13px]">
            <thead className="sticky top-0 bg-base-100">
              <tr className="quiet text-left">
                <th className="py-1 pl-4 font-normal">Role</th>
                <th className="text-right font-normal">Off by</th>
                <th aria-hidden />
                <th className="text-right font-normal">Allowed</th>
                <th className="pr-4 text-right font-normal">Roll</th>
              </tr>
            </thead>
            <tbody>
              {sorted.map((deviation) => (
                <DeviationRow
                  key={deviation.role}
                  deviation={deviation}
                  label={roleOf(definition, deviation.role).label}
                  isSelected={deviation.role === role}
                  onSelect={() => select({ role: deviation.role, bone: deviation.boneIndex })}
                  onHover={setHovered}
                />
              ))}
            </tbody>
          </table>
        </div>
      </main>
      <CharacterStage
        selected={bone}
        hovered={hovered}
        onPick={pick}
        onHover={setHovered}
        views={FOUR_VIEWS}
        pose={turning.pose}
        showBefore={showBefore && isChanged}
      />
      <span className="sr-only">{character.name}</span>
    </div>
  );
}

const excess = (deviation: RoleDeviation): number =>
  (deviation.alignment === 'leave' ? -10 : 0) + deviation.deviationRad - deviation.toleranceRad;

function DeviationRow({
  deviation,
  label,
  isSelected,
  onSelect,
  onHover,
}: {
  deviation: RoleDeviation;
  label: string;
  isSelected: boolean;
  onSelect: () => void;
  onHover: (bone: number | null) => void;
}) {
  const isOff = deviation.alignment !== 'leave' && !deviation.isWithin;
  return (
    <tr
      className={isSelected ? 'bg-(--accent-wash)' : 'hover:bg-base-200'}
      onPointerEnter={() => onHover(deviation.boneIndex)}
      onPointerLeave={() => onHover(null)}
    >
      <td className="py-0.5 pl-4">
        <button className="w-full text-left" aria-pressed={isSelected} onClick={onSelect}>
          {label}
        </button>
      </td>
      <td className={`text-right tabular-nums ${isOff ? 'font-semibold text-warning' : ''}`}>
        {isOff && <span aria-hidden>▲ </span>}
        {degreesText(deviation.deviationRad)}
      </td>
      <td className="w-9 pl-2">
        <AngleDial angleRad={deviation.deviationRad} toleranceRad={deviation.toleranceRad} isOff={isOff} />
      </td>
      <td className="quiet text-right tabular-nums">
        {deviation.alignment === 'leave' ? 'left as is' : degreesText(deviation.toleranceRad)}
      </td>
      <td className="quiet pr-4 text-right tabular-nums">
        {deviation.rollRad === null ? '–' : degreesText(deviation.rollRad)}
      </td>
    </tr>
  );
}
