'use client';

import { useEffect } from 'react';
import type { PlannedRepair } from '@/core/intake/plan-repair';
import { useTreeRepair } from './use-tree-repair';

interface RepairButtonProps {
  readonly plan: PlannedRepair;
  readonly title: string;
  readonly children: string;
  /** Shows the repair on the stage while the pointer or the focus rests here; null ends that. */
  readonly onPreview: (plan: PlannedRepair | null) => void;
  readonly onDone?: () => void;
}

/** Carries out one repair of the tree; what it comes to shows on the stage before it is pressed. */
export function RepairButton({ plan, title, children, onPreview, onDone }: RepairButtonProps) {
  const repair = useTreeRepair();
  // A button that goes away under the pointer never says that the pointer left.
  useEffect(() => () => onPreview(null), [onPreview]);
  const show = () => onPreview(plan);
  const hide = () => onPreview(null);
  return (
    <button
      className="btn btn-sm"
      title={title}
      disabled={!repair.can(plan)}
      onPointerEnter={show}
      onPointerLeave={hide}
      onFocus={show}
      onBlur={hide}
      onClick={() => {
        hide();
        repair.carryOut(plan);
        onDone?.();
      }}
    >
      {children}
    </button>
  );
}
