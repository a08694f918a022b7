'use client';

import { useCallback, useMemo, useState } from 'react';
import type { CharacterView } from '@/contract/character-view';
import { isPossible, outlookOf, type PlannedRepair, type RepairOutlook } from '@/core/intake/plan-repair';

export interface RepairPreview {
  readonly outlook: RepairOutlook | null;
  readonly preview: (plan: PlannedRepair | null) => void;
}

/** The repair that is looked at before it is made; it ends with the rig that it speaks of. */
export function useRepairPreview({ rig }: CharacterView): RepairPreview {
  const [planned, setPlanned] = useState<{ readonly plan: PlannedRepair; readonly rig: CharacterView['rig'] } | null>(
    null,
  );
  const preview = useCallback((plan: PlannedRepair | null) => setPlanned(plan && { plan, rig }), [rig]);
  const outlook = useMemo(
    () => (planned?.rig === rig && isPossible(rig, planned.plan) ? outlookOf(rig, planned.plan) : null),
    [planned, rig],
  );
  return { outlook, preview };
}
