'use client';

import { useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { CheckRow } from '@/contract/studio';
import { REPAIR_TEXT } from '@/core/repairs/repair-kinds';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';
import type { CheckColumn } from './check-grid';

interface ColumnRepairProps {
  readonly column: CheckColumn;
  readonly rows: readonly CheckRow[];
  readonly onDone: () => void;
}

/** The commonest repair of a column, tried on all that are offered it before it is made. */
export function ColumnRepair({ column, rows, onDone }: ColumnRepairProps) {
  const { repair, repairable, check } = column;
  const [tried, setTried] = useState<ReadonlyMap<string, string>>(new Map());
  const [isBusy, setBusy] = useState(false);
  if (!repair) return <p className="quiet text-[13px]">No repair is offered for {check}.</p>;
  const subjects = rows.filter(({ id }) => repairable.includes(id));
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
        params: { path: { characterId: row.id }, query: { repairs: repair, movement: 'no' } as never },
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
        body: { baseRevision: row.revision, repairs: [repair] },
      }),
      row.name,
    ).then((outcome) => (outcome.ok ? 'repaired' : outcome.problem.message));
  return (
    <div className="text-[13px]">
      <div className="flex items-center gap-2">
        <p>
          <span className="font-semibold">{REPAIR_TEXT[repair]}</span> on {countText(subjects.length, 'character')}
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
