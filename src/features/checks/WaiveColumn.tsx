'use client';

import { useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { CheckRow } from '@/contract/studio';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';
import { WaiveFields } from '@/ui/WaiveFields';
import { Refusals } from './Refusals';
import { useEach } from './use-each';

interface WaiveColumnProps {
  readonly check: string;
  readonly rows: readonly CheckRow[];
  readonly onDone: () => void;
}

/** Accepts all that a check finds on the characters that are shown, until a day. */
export function WaiveColumn({ check, rows, onDone }: WaiveColumnProps) {
  const [isOpen, setOpen] = useState(false);
  const { isBusy, refused, run } = useEach();
  const subjects = rows.filter(({ cells }) => cells.some((cell) => cell.check === check && cell.severity !== 'note'));
  if (subjects.length === 0) return null;
  const waive = async (reason: string, until: string | undefined): Promise<void> => {
    const isDone = await run(subjects, ({ id, name, revision }) =>
      outcomeOf(
        api.POST('/api/characters/{characterId}/fit/waivers', {
          params: { path: { characterId: id } },
          body: { baseRevision: revision, check, reason, until },
        }),
        name,
      ),
    );
    if (!isDone) return;
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
      <Refusals texts={refused} />
    </div>
  );
}
