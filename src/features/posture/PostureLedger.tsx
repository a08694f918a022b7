'use client';

import { memo, useMemo } from 'react';
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
export const PostureLedger = memo(function PostureLedger(props: PostureLedgerProps) {
  const { deviations, picked, isStale, onPick, onHover } = props;
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
    // Kept apart for layout: a number that changes while something is dragged must not move the rest of the page.
    <div
      className={`min-h-0 flex-1 overflow-auto border-t border-base-300 contain-strict ${isStale ? 'opacity-70' : ''}`}
    >
      <table className="w-full table-fixed text-[13px]">
        <thead className="sticky top-0 bg-base-100">
          <tr className="quiet text-left">
            <th className="py-1 pl-4 font-normal">Role</th>
            <th className="w-20 text-right font-normal">Off by</th>
            <th aria-hidden className="w-9" />
            <th className="w-20 text-right font-normal">Allowed</th>
            <th className="w-20 pr-4 text-right font-normal">Roll</th>
          </tr>
        </thead>
        <tbody>
          {sorted.map((deviation) => (
            <DeviationRow
              key={deviation.role}
              role={deviation.role}
              boneIndex={deviation.boneIndex}
              offBy={tenths(deviation.deviationRad)}
              isLeft={deviation.alignment === 'leave'}
              toleranceRad={deviation.toleranceRad}
              roll={deviation.rollRad === null ? null : tenths(deviation.rollRad)}
              isOff={!deviation.isWithin}
              label={roleOf(definition, deviation.role).label}
              isSelected={picked.includes(deviation.role)}
              onPick={onPick}
              onHover={onHover}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
});

const excess = ({ alignment, isWithin, deviationRad, toleranceRad }: RoleDeviation): number =>
  (alignment === 'leave' && isWithin ? -10 : 0) + deviationRad - toleranceRad;

/** As it is shown, so that a change too small to be seen changes nothing. */
const tenths = (rad: number): number => (Math.round((rad * 1800) / Math.PI) * Math.PI) / 1800;

interface DeviationRowProps {
  readonly role: string;
  readonly boneIndex: number;
  /** Radians. */
  readonly offBy: number;
  /** Whether aligning leaves the segment as it is. */
  readonly isLeft: boolean;
  /** Radians. */
  readonly toleranceRad: number;
  /** Radians; null where the limb does not show it. */
  readonly roll: number | null;
  readonly isOff: boolean;
  readonly label: string;
  readonly isSelected: boolean;
  readonly onPick: (role: string, isMore: boolean) => void;
  readonly onHover: (bone: number | null) => void;
}

const DeviationRow = memo(function DeviationRow(props: DeviationRowProps) {
  const { role, boneIndex, offBy, isLeft, toleranceRad, roll, isOff, label, isSelected, onPick, onHover } = props;
  return (
    <tr
      className={isSelected ? 'bg-(--accent-wash)' : 'hover:bg-base-200'}
      onPointerEnter={() => onHover(boneIndex)}
      onPointerLeave={() => onHover(null)}
    >
      <td className="py-0.5 pl-4">
        <button
          className="w-full truncate text-left"
          aria-pressed={isSelected}
          onClick={(event) => onPick(role, event.ctrlKey || event.metaKey)}
        >
          {label}
        </button>
      </td>
      <td className={`text-right tabular-nums ${isOff ? 'font-semibold text-warning' : ''}`}>
        {isOff && <span aria-hidden>▲ </span>}
        {degreesText(offBy)}
      </td>
      <td className="pl-2">
        <AngleDial angleRad={offBy} toleranceRad={toleranceRad} isOff={isOff} />
      </td>
      <td className="quiet text-right tabular-nums" title={isLeft ? 'Aligning leaves this one as it is' : undefined}>
        {isLeft && <span className="sr-only">left as it is, </span>}
        {degreesText(toleranceRad)}
      </td>
      <td className="quiet pr-4 text-right tabular-nums">{roll === null ? '–' : degreesText(roll)}</td>
    </tr>
  );
});
