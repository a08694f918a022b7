'use client';

import dynamic from 'next/dynamic';
import { useMemo } from 'react';
import { measurePosture, type RoleDeviation } from '@/core/posture/measure-posture';
import { computeWorlds, REST_POSE } from '@/core/rig/pose';
import { roleOf } from '@/core/definition/definition';
import { useCharacter } from '../character/character-context';
import { useAlignInput } from './use-align-input';

/** The chart's package is large, and wanted here only. */
const DeviationChart = dynamic(() => import('./DeviationChart'), {
  ssr: false,
  loading: () => <p className="quiet px-4 py-2">Drawing …</p>,
});

/** How far each aligned role is off in the file, and now. */
export function ComparePanel({ now }: { now: readonly RoleDeviation[] }) {
  const { definition } = useCharacter();
  const input = useAlignInput();
  const before = useMemo(
    () => measurePosture({ ...input, worlds: computeWorlds(input.rig, REST_POSE) }).deviations,
    [input],
  );
  const bars = useMemo(() => {
    const later = new Map(now.map(({ role, deviationRad }) => [role, deviationRad]));
    return before
      .filter(({ alignment }) => alignment !== 'leave')
      .map(({ role, deviationRad, toleranceRad }) => ({
        label: roleOf(definition, role).label,
        before: degrees(deviationRad),
        now: degrees(later.get(role) ?? 0),
        allowed: degrees(toleranceRad),
      }))
      .sort((a, b) => Math.max(b.before, b.now) - Math.max(a.before, a.now));
  }, [before, now, definition]);
  const outside = (which: 'before' | 'now') => bars.filter((bar) => bar[which] > bar.allowed).length;
  return (
    <section aria-label="Before and after" className="flex min-h-0 flex-1 flex-col text-[13px]">
      <p className="px-4 py-2">
        {bars.length} aligned roles: {outside('before')} outside tolerance in the file, {outside('now')} now.
      </p>
      <div className="min-h-0 flex-1 overflow-auto px-2">
        <DeviationChart bars={bars} />
      </div>
    </section>
  );
}

const degrees = (rad: number): number => Math.round((rad * 1800) / Math.PI) / 10;
