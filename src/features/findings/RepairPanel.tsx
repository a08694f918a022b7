'use client';

import { useEffect, useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { RepairCounts, RepairPreview } from '@/contract/repairs';
import { listNames } from '@/core/checks/finding';
import { countText } from '@/core/text/count';
import { REPAIR_TEXT, SAFE_REPAIRS, type RepairKind } from '@/core/repairs/repair-kinds';
import { api } from '@/ui/api';
import { useCharacter } from '../character/character-context';

const COUNTED: readonly (readonly [keyof RepairCounts, string])[] = [
  ['blockers', 'Blockers'],
  ['cautions', 'Cautions'],
  ['notes', 'Notes'],
  ['bones', 'Bones'],
  ['vertices', 'Vertices'],
  ['influences', 'Bones for one vertex'],
  ['clips', 'Clips'],
  ['heightMetres', 'Height, m'],
];

/** Repairs that the findings offer: what each would change is shown before it is made. */
export function RepairPanel() {
  const { character, fit, definition, repair } = useCharacter();
  const offered = [...new Set(fit.findings.flatMap((finding) => finding.repair ?? []))];
  const [asked, setAsked] = useState<readonly RepairKind[] | null>(null);
  const [held, setHeld] = useState<{ readonly key: string; readonly preview: RepairPreview | 'failed' } | null>(null);
  const wanted = asked?.filter((kind) => offered.includes(kind)) ?? [];
  const key = wanted.length > 0 ? `${fit.revision} ${wanted.join(',')}` : null;
  useEffect(() => {
    if (key === null) return;
    let isGone = false;
    const repairs = key.slice(key.indexOf(' ') + 1);
    const params = {
      path: { characterId: character.id },
      query: { repairs, definition: definition.id },
    };
    void outcomeOf(
      api.GET('/api/characters/{characterId}/fit/repairs', { params: params as never }),
      character.name,
    ).then((outcome) => !isGone && setHeld({ key, preview: outcome.ok ? outcome.data : 'failed' }));
    return () => {
      isGone = true;
    };
  }, [key, character.id, character.name, definition.id]);
  if (offered.length === 0) return null;
  const safe = offered.filter((kind) => SAFE_REPAIRS.includes(kind));
  const isShut = fit.state.isClosed;
  return (
    <section aria-label="Repairs" className="mt-3 rounded-box border border-base-300 bg-base-100 p-3">
      <div className="flex flex-wrap items-center gap-1.5">
        <h3 className="mr-2 font-semibold">Repairs</h3>
        {offered.map((kind) => (
          <button
            key={kind}
            className={`btn btn-xs ${wanted.includes(kind) ? 'btn-primary' : ''}`}
            aria-pressed={wanted.includes(kind)}
            onClick={() => setAsked(wanted.includes(kind) ? wanted.filter((each) => each !== kind) : [...wanted, kind])}
          >
            {REPAIR_TEXT[kind]}
          </button>
        ))}
        {safe.length > 1 && (
          <button className="btn btn-ghost btn-xs" onClick={() => setAsked(safe)}>
            Choose all safe ones
          </button>
        )}
      </div>
      {key !== null && <Preview state={held?.key === key ? held.preview : null} />}
      {wanted.length > 0 && (
        <div className="mt-2 flex gap-2">
          <button
            className="btn btn-primary btn-sm"
            // What would change is seen before it is made.
            disabled={isShut || held?.key !== key || held.preview === 'failed' || held.preview.refused !== null}
            onClick={() => {
              repair(wanted);
              setAsked(null);
            }}
          >
            Repair
          </button>
          <button className="btn btn-ghost btn-sm" onClick={() => setAsked(null)}>
            Cancel
          </button>
        </div>
      )}
    </section>
  );
}

/** Less is not seen. */
const SEEN_MM = 0.05;

const millimetres = (value: number): string => (value < SEEN_MM ? 'stays' : `${value.toFixed(1)} mm`);

function Preview({ state }: { readonly state: RepairPreview | 'failed' | null }) {
  if (state === null)
    return (
      <p role="status" className="quiet mt-2 text-[13px]">
        Working out what would change …
      </p>
    );
  if (state === 'failed')
    return (
      <p role="alert" className="mt-2 text-[13px] text-error">
        What would change could not be worked out. Choose the repairs again.
      </p>
    );
  const { refused, before, after, gone, renamed, movement } = state;
  if (refused !== null || !before || !after)
    return (
      <p role="alert" className="mt-2 text-[13px] text-error">
        {refused}
      </p>
    );
  const text = (value: number): string => (Number.isInteger(value) ? String(value) : value.toFixed(2));
  const changed = COUNTED.filter(([name]) => text(before[name]) !== text(after[name]));
  return (
    <div className="mt-2 grid grid-cols-[auto_1fr] items-start gap-6 text-[13px]">
      <table aria-label="What would change">
        <tbody>
          {changed.map(([name, label]) => (
            <tr key={name}>
              <th className="quiet pr-3 text-left font-normal">{label}</th>
              <td className="text-right font-mono tabular-nums">{text(before[name])}</td>
              <td aria-hidden className="px-1.5">
                →
              </td>
              <td className="text-right font-mono font-semibold tabular-nums">{text(after[name])}</td>
            </tr>
          ))}
          {changed.length === 0 && (
            <tr>
              <td>Nothing that is counted changes.</td>
            </tr>
          )}
        </tbody>
        {movement && (
          <tbody>
            <tr>
              <th className="quiet pt-1 pr-3 text-left font-normal">Furthest vertex, at rest</th>
              <td colSpan={3} className="pt-1 text-right font-mono tabular-nums">
                {millimetres(movement.restMm)}
              </td>
            </tr>
            {movement.motionMm !== null && (
              <tr>
                <th className="quiet pr-3 text-left font-normal">Furthest vertex, in motion</th>
                <td colSpan={3} className="text-right font-mono tabular-nums">
                  {millimetres(movement.motionMm)}
                </td>
              </tr>
            )}
          </tbody>
        )}
      </table>
      <div>
        {movement && movement.part !== '' && Math.max(movement.restMm, movement.motionMm ?? 0) >= SEEN_MM && (
          <p className="mb-1">The furthest vertex is on {movement.part}.</p>
        )}
        {movement && movement.left.length > 0 && (
          <p className="quiet mb-1">Cut or joined anew, so not held against what was: {listNames(movement.left)}.</p>
        )}
        {renamed.length > 0 && (
          <p className="mb-1">
            {countText(renamed.length, 'bone')} {renamed.length === 1 ? 'gets another name' : 'get other names'}:{' '}
            {listNames(
              renamed.map(({ from, to }) => `${from} becomes ${to}`),
              3,
            )}
            .
          </p>
        )}
        {gone.length > 0 && (
          <ul aria-label="Findings that would be gone" className="list-disc pl-4">
            {gone.slice(0, 6).map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
            {gone.length > 6 && <li className="quiet">and {gone.length - 6} more</li>}
          </ul>
        )}
      </div>
    </div>
  );
}
