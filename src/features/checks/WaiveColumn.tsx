'use client';

import { useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { CheckRow } from '@/contract/studio';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';
import { WaiveFields } from '@/ui/WaiveFields';

interface WaiveColumnProps {
  readonly check: string;
  readonly rows: readonly CheckRow[];
  readonly onDone: () => void;
}

/** Accepts all that a check finds on the characters that are shown, until a day. */
export function WaiveColumn({ check, rows, onDone }: WaiveColumnProps) {
  const [isOpen, setOpen] = useState(false);
  const [isBusy, setBusy] = useState(false);
  const [refused, setRefused] = useState<readonly string[]>([]);
  const subjects = rows.filter(({ cells }) => cells.some((cell) => cell.check === check && cell.severity !== 'note'));
  if (subjects.length === 0) return null;
  const waive = async (reason: string, until: string | undefined): Promise<void> => {
    setBusy(true);
    const failed: string[] = [];
    for (const { id, name, revision } of subjects) {
      const outcome = await outcomeOf(
        api.POST('/api/characters/{characterId}/fit/waivers', {
          params: { path: { characterId: id } },
          body: { baseRevision: revision, check, reason, until },
        }),
        name,
      );
      if (!outcome.ok) failed.push(`${name}: ${outcome.problem.message}`);
    }
    setBusy(false);
    setRefused(failed);
    if (failed.length > 0) return;
    setOpen(false);
    onDone();
  };
  return (
    <div className="mt-2 text-[13px]">
      {!isOpen && (
        <button className="btn btn-ghost btn-xs" onClick={() => setOpen(true)}>
          Waive {check} on {countText(subjects.length, 'character')} …
        </button>
      )}
      {isOpen && (
        <WaiveFields
          label={`Waive ${check}`}
          submit={`Waive on ${subjects.length}`}
          isBusy={isBusy}
          onWaive={(reason, until) => void waive(reason, until)}
          onCancel={() => setOpen(false)}
        />
      )}
      {refused.length > 0 && (
        <ul role="alert" className="mt-1 list-disc pl-5 text-error">
          {refused.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
    </div>
  );
}
