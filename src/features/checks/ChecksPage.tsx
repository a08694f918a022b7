'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useMemo, useState } from 'react';
import { REPAIR_TEXT, SAFE_REPAIRS } from '@/core/repairs/repair-kinds';
import { countText } from '@/core/text/count';
import { download } from '@/ui/download';
import { selectionQuery } from '@/ui/selection';
import { useListening } from '@/ui/use-listening';
import { PageHead } from '@/ui/PageHead';
import { columnsOf, csvOf, sortedRows, type CheckCell } from './check-grid';
import { CommonBars } from './CommonBars';
import { RepairMany } from './RepairMany';
import { SetProfile } from './SetProfile';
import { WaiveColumn } from './WaiveColumn';
import { useChecks } from './use-checks';

interface ChecksPageProps {
  /** Characters that are checked. */
  readonly ids: readonly string[];
  /** Whether these are a selection of all. */
  readonly isSelection: boolean;
  readonly profile: string | null;
  readonly profiles: readonly { readonly id: string; readonly label: string }[];
}

const TONE: Readonly<Record<CheckCell['severity'], string>> = {
  blocker: 'bg-error/15 text-error font-semibold',
  caution: 'bg-warning/15 text-warning',
  note: 'quiet',
};
const LETTER: Readonly<Record<CheckCell['severity'], string>> = { blocker: 'B', caution: 'C', note: 'n' };

/** Characters that are offered a repair which takes nothing away that is seen. */
const safeSubjects = (rows: ReturnType<typeof useChecks>['rows']) =>
  rows.filter(({ cells }) => cells.some(({ repairs }) => repairs.some((kind) => SAFE_REPAIRS.includes(kind))));

/** Characters by checks: which problem is common, and one repair for all that have it. */
export function ChecksPage({ ids, isSelection, profile, profiles }: ChecksPageProps) {
  useListening('checks');
  const router = useRouter();
  const { rows, isRunning, hasFailed, again } = useChecks(ids, profile);
  const [chosen, setChosen] = useState<string | null>(null);
  const [isSafe, setSafe] = useState(false);
  const [hasNotes, setNotes] = useState(false);
  const columns = useMemo(
    () => columnsOf(rows).filter(({ found }) => hasNotes || found.blocker + found.caution > 0),
    [rows, hasNotes],
  );
  const sorted = useMemo(() => sortedRows(rows), [rows]);
  const column = columns.find(({ check }) => check === chosen);
  const shownProfile = profiles.find(({ id }) => id === profile);
  const choose = async (wanted: string): Promise<void> => {
    const selection = isSelection ? await selectionQuery(ids) : null;
    const parts = [selection?.ok && selection.data, wanted && `profile=${wanted}`].filter(Boolean);
    router.push(`/checks?${parts.join('&')}`);
  };
  return (
    <div className="flex h-full min-h-full flex-col">
      <PageHead
        title="Checks"
        about={countText(ids.length, 'character')}
        beside={
          isSelection && (
            <Link href="/checks" className="link text-[13px] link-primary">
              Show all
            </Link>
          )
        }
      >
        <label className="flex items-center gap-2 text-[13px]">
          For
          <select
            className="select w-auto select-sm"
            value={profile ?? ''}
            onChange={(event) => void choose(event.target.value)}
          >
            <option value="">each one&rsquo;s own engine</option>
            {profiles.map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-1.5 text-[13px]">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={hasNotes}
            onChange={(event) => setNotes(event.target.checked)}
          />
          Notes
        </label>
        <button
          className="btn btn-sm"
          aria-pressed={isSafe}
          disabled={isRunning || safeSubjects(rows).length === 0}
          onClick={() => {
            setSafe(!isSafe);
            setChosen(null);
          }}
        >
          All safe repairs …
        </button>
        <button
          className="btn btn-sm"
          disabled={rows.length === 0}
          onClick={() => download(csvOf(sorted), 'checks.csv', 'text/csv')}
        >
          CSV
        </button>
      </PageHead>
      <main className="flex min-h-0 flex-1 flex-col gap-3 p-4">
        <p role="status" className="text-[13px]">
          {hasFailed
            ? 'The checks ended before all was checked. '
            : isRunning
              ? `Checking: ${rows.length} of ${ids.length} …`
              : `${rows.length} checked; ${rows.filter(({ cells }) => cells.every(({ severity }) => severity === 'note')).length} without blocker or caution.`}
          {hasFailed && (
            <button className="btn btn-xs" onClick={again}>
              Check again
            </button>
          )}
        </p>
        {!isRunning && shownProfile && rows.length > 0 && (
          <SetProfile profile={shownProfile} rows={rows} onDone={() => void choose('')} />
        )}
        {columns.length > 0 && <CommonBars columns={columns} />}
        {isSafe && (
          <section aria-label="All safe repairs" className="rounded-box border border-base-300 bg-base-100 p-3">
            <RepairMany title="All safe repairs" wanted="safe" subjects={safeSubjects(rows)} onDone={again} />
          </section>
        )}
        {column && (
          <section
            aria-label={`Repair of ${column.check}`}
            className="rounded-box border border-base-300 bg-base-100 p-3"
          >
            {column.repair ? (
              <RepairMany
                key={column.check}
                title={REPAIR_TEXT[column.repair]}
                wanted={column.repair}
                subjects={rows.filter(({ id }) => column.repairable.includes(id))}
                onDone={again}
              />
            ) : (
              <p className="quiet text-[13px]">No repair is offered for {column.check}.</p>
            )}
            <WaiveColumn key={`waive ${column.check}`} check={column.check} rows={rows} onDone={again} />
          </section>
        )}
        <div className="min-h-0 flex-1 overflow-auto rounded-box border border-base-300 bg-base-100">
          <table className="w-full border-collapse text-[13px]">
            <thead className="sticky top-0 z-10 bg-base-100">
              <tr>
                <th className="px-3 py-1.5 text-left font-semibold">Character</th>
                {columns.map(({ check, found }) => (
                  <th key={check} className="px-1 py-1.5 text-left align-bottom font-normal">
                    <button
                      className={`rounded-field px-1.5 text-left hover:bg-base-200 ${check === chosen ? 'bg-base-200 font-semibold' : ''}`}
                      aria-pressed={check === chosen}
                      onClick={() => {
                        setChosen(check === chosen ? null : check);
                        setSafe(false);
                      }}
                    >
                      {check} <span className="quiet">{found.blocker + found.caution + found.note}</span>
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {sorted.map(({ id, name, cells, refused, waived }) => (
                <tr key={id} className="border-t border-base-300">
                  <th className="px-3 py-1 text-left font-normal whitespace-nowrap">
                    <Link className="link link-hover" href={`/characters/${id}/findings`}>
                      {name}
                    </Link>
                    {waived > 0 && <span className="quiet"> {waived} waived</span>}
                  </th>
                  {refused !== null ? (
                    <td colSpan={Math.max(1, columns.length)} className="px-2 text-error">
                      {refused}
                    </td>
                  ) : (
                    columns.map(({ check }) => {
                      const cell = cells.find((each) => each.check === check);
                      return (
                        <td key={check} className="px-1 py-0.5">
                          {cell && (
                            <span
                              title={cell.sentence}
                              className={`inline-block min-w-10 rounded-field px-1.5 text-center font-mono text-xs ${TONE[cell.severity]}`}
                            >
                              {LETTER[cell.severity]} {cell.count}
                            </span>
                          )}
                        </td>
                      );
                    })
                  )}
                </tr>
              ))}
            </tbody>
          </table>
          {!isRunning && rows.length === 0 && (
            <p className="quiet p-6">There is no character to check. Choose some in the roster.</p>
          )}
        </div>
        <p className="quiet text-xs">
          B blocker, C caution, n note, with how many. A column&rsquo;s head offers its repair.
        </p>
      </main>
    </div>
  );
}
