'use client';

import type { CharacterView } from '@/contract/character-view';
import { roleOf } from '@/core/definition/definition';
import type { DifferenceKind, RoleComparison } from '@/core/fit/compare';
import { useCharacter } from '../character/character-context';
import { useRoster } from '../character/use-roster';

interface CompareLedgerProps {
  readonly otherId: string;
  readonly other: CharacterView | 'loading' | 'failed' | null;
  readonly rows: readonly RoleComparison[];
  readonly role: string | null;
  readonly onChoose: (id: string | null) => void;
  readonly onPick: (role: string) => void;
}

/** What the names in both columns do not say already. */
const SAID: ReadonlySet<DifferenceKind> = new Set(['other parent', 'longer run', 'shorter run']);

/** This fit beside another character's, differences first. */
export function CompareLedger({ otherId, other, rows, role, onChoose, onPick }: CompareLedgerProps) {
  const { character, definition } = useCharacter();
  const roster = useRoster();
  const renamed = rows.filter(({ kinds }) => kinds[0] === 'other name').length;
  const differing = rows.filter(({ kinds }) => kinds[0] !== 'same').length - renamed;
  return (
    <section aria-label="Compare" className="flex min-h-0 flex-1 flex-col bg-base-100">
      <div className="px-3 pt-2.5">
        <div className="flex items-baseline">
          <h2 className="font-semibold">Compare</h2>
          <button className="ml-auto link text-[13px] link-hover" onClick={() => onChoose(null)}>
            Back to the bones
          </button>
        </div>
        <select
          aria-label="Compare with"
          className="select my-1.5 w-full select-sm"
          value={roster.some(({ id }) => id === otherId) ? otherId : ''}
          onChange={(event) => onChoose(event.target.value)}
        >
          <option value="">With which character?</option>
          {roster
            .filter(({ id, isHumanoid }) => id !== character.id && isHumanoid)
            .map((row) => (
              <option key={row.id} value={row.id}>
                {row.name}
              </option>
            ))}
        </select>
        {other === 'loading' && (
          <p role="status" className="quiet text-[13px]">
            Fetching the other fit …
          </p>
        )}
        {other === 'failed' && (
          <p role="alert" className="text-[13px] text-error">
            That character could not be fetched. Choose it again, or another one.
          </p>
        )}
        {other !== null && typeof other === 'object' && (
          <p className="text-[13px]">
            {differing === 0 ? 'No role differs' : `${differing} of ${rows.length} roles differ`}
            {renamed > 0 ? `, ${renamed} more in name only.` : '.'}{' '}
            <span className="quiet">Names are shown without the rigs&rsquo; prefixes.</span>
          </p>
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-2 pt-1" tabIndex={0} role="region" aria-label="Roles compared">
        <table className="w-full table-fixed text-[13px]">
          {rows.length > 0 && (
            <thead>
              <tr className="quiet text-left">
                <th scope="col" className="w-24 font-normal">
                  Role
                </th>
                <th scope="col" className="font-normal">
                  Here
                </th>
                <th scope="col" className="font-normal">
                  There
                </th>
              </tr>
            </thead>
          )}
          <tbody>
            {rows.map((row) => (
              <tr
                key={row.role}
                className={`cursor-pointer align-top ${row.role === role ? 'bg-(--accent-wash)' : 'hover:bg-base-200'} ${row.kinds[0] === 'same' || row.kinds[0] === 'other name' ? 'quiet' : ''}`}
                onClick={() => onPick(row.role)}
              >
                <th scope="row" className="py-0.5 pr-1 text-left font-normal">
                  <button className="text-left">{roleOf(definition, row.role).label}</button>
                </th>
                <td className="truncate pr-1 font-mono text-[12px]" title={row.here ?? ''}>
                  {row.here ?? <span className="text-warning">vacant</span>}
                </td>
                <td className="font-mono text-[12px]" title={row.there ?? ''}>
                  <span className="block truncate">{row.there ?? <span className="text-warning">vacant</span>}</span>
                  {row.kinds
                    .filter((kind) => SAID.has(kind))
                    .map((kind) => (
                      <span key={kind} className="block font-sans text-warning">
                        {kind}
                      </span>
                    ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
