'use client';

import type { Finding } from '@/core/checks/finding';
import { WaiveFields } from '@/ui/WaiveFields';
import { useCharacter } from '../character/character-context';

/** Accepts a finding with a reason; in the name of who works here, by the day. */
export function WaiveForm({ finding, onClose }: { readonly finding: Finding; readonly onClose: () => void }) {
  const { waive } = useCharacter();
  return (
    <WaiveFields
      label="Waive this finding"
      submit="Waive"
      onCancel={onClose}
      onWaive={(reason, until) => {
        waive({ finding: finding.key }, reason, until);
        onClose();
      }}
    />
  );
}
