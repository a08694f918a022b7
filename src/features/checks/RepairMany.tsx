'use client';

import { useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { CheckRow } from '@/contract/studio';
import type { RepairKind } from '@/core/repairs/repair-kinds';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';

interface RepairManyProps {
  /** What it does, as its head says. */
  readonly title: string;
  readonly wanted: RepairKind | 'safe';
  /** Characters that are offered it. */
  readonly subjects: readonly CheckRow[];
  readonly onDone: () => void;
}

/** A repair, or all safe ones, tried on many characters before it is made on them. */
export function RepairMany({ title, wanted, subjects, onDone }: RepairManyProps) {
  const [tried, setTried] = useState<ReadonlyMap<string, string>>(new Map());
  const [isBusy, setBusy] = useState(false);
  const each = async (work: (row: CheckRow) => Promise<string>): Promise<void> => {
    setBusy(true);
    for (const row of subjects) {
      const said = await work(row);
      setTried((known) => new Map([...known, [row.id, said]]));
    }
    setBusy(false);
  };
  const preview = (row: CheckRow): Promise<string> =>
    outcomeOf(
      api.GET('/api/characters/{characterId}/fit/repairs', {
        params: { path: { characterId: row.id }, query: { repairs: wanted, movement: 'no' } as never },
      }),
      row.name,
    ).then((outcome) => {
      if (!outcome.ok) return outcome.problem.message;
      const { refused, before, after } = outcome.data;
      if (refused !== null || !before || !after) return refused ?? 'nothing would change';
      return `${countText(before.blockers, 'blocker')} → ${after.blockers}, ${countText(before.cautions, 'caution')} → ${after.cautions}, ${countText(before.bones, 'bone')} → ${after.bones}`;
    });
  const make = (row: CheckRow): Promise<string> =>
    outcomeOf(
      api.POST('/api/characters/{characterId}/fit/repairs', {
        params: { path: { characterId: row.id } },
        body: { baseRevision: row.revision, repairs: wanted === 'safe' ? wanted : [wanted] },
      }),
      row.name,
    ).then((outcome) => (outcome.ok ? 'repaired' : outcome.problem.message));
  return (
    <div className="text-[13px]">
      <div className="flex items-center gap-2">
        <p>
          <span className="font-semibold">{title}</span> on {countText(subjects.length, 'character')}
        </p>
        <button className="btn btn-sm" disabled={isBusy} onClick={() => void each(preview)}>
          Try
        </button>
        <button className="btn btn-primary btn-sm" disabled={isBusy} onClick={() => void each(make).then(onDone)}>
          Repair {subjects.length}
        </button>
        {isBusy && <span role="status">working …</span>}
      </div>
      {tried.size > 0 && (
        <ul aria-label="What it comes to" className="mt-1 max-h-32 columns-2 overflow-auto">
          {subjects.map(({ id, name }) => (
            <li key={id}>
              {name}: <span className="quiet">{tried.get(id) ?? '…'}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
