'use client';

import { useMemo } from 'react';
import { roleOf } from '@/core/definition/definition';
import type { RoleDeviation } from '@/core/posture/measure-posture';
import { degreesText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { AngleDial } from './AngleDial';

interface PostureLedgerProps {
  readonly deviations: readonly RoleDeviation[];
  readonly picked: readonly string[];
  /** Whether the numbers are of the pose a moment ago. */
  readonly isStale: boolean;
  readonly onPick: (role: string, isMore: boolean) => void;
  readonly onHover: (bone: number | null) => void;
}

/** Measured angles, worst first as the fit stands; the order stays while something is turned. */
export function PostureLedger({ deviations, picked, isStale, onPick, onHover }: PostureLedgerProps) {
  const { definition, fit } = useCharacter();
  const order = useMemo(
    () => new Map([...fit.deviations].sort((a, b) => excess(b) - excess(a)).map(({ role }, at) => [role, at])),
    [fit.deviations],
  );
  const sorted = useMemo(
    () => [...deviations].sort((a, b) => (order.get(a.role) ?? 0) - (order.get(b.role) ?? 0)),
    [deviations, order],
  );
  return (
    <div className={`min-h-0 flex-1 overflow-auto border-t border-base-300 ${isStale ? 'opacity-70' : ''}`}>
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
              isSelected={picked.includes(deviation.role)}
              onPick={(isMore) => onPick(deviation.role, isMore)}
              onHover={onHover}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

const excess = (deviation: RoleDeviation): number =>
  (deviation.alignment === 'leave' ? -10 : 0) + deviation.deviationRad - deviation.toleranceRad;

interface DeviationRowProps {
  readonly deviation: RoleDeviation;
  readonly label: string;
  readonly isSelected: boolean;
  readonly onPick: (isMore: boolean) => void;
  readonly onHover: (bone: number | null) => void;
}

function DeviationRow({ deviation, label, isSelected, onPick, onHover }: DeviationRowProps) {
  const isOff = deviation.alignment !== 'leave' && !deviation.isWithin;
  return (
    <tr
      className={isSelected ? 'bg-(--accent-wash)' : 'hover:bg-base-200'}
      onPointerEnter={() => onHover(deviation.boneIndex)}
      onPointerLeave={() => onHover(null)}
    >
      <td className="py-0.5 pl-4">
        <button
          className="w-full text-left"
          aria-pressed={isSelected}
          onClick={(event) => onPick(event.ctrlKey || event.metaKey)}
        >
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
