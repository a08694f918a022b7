'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { Problem } from '@/core/errors/yarvo-error';
import { NO_PROVENANCE } from '@/core/rig/source-facts';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { ProblemNote } from '@/ui/ProblemNote';
import { selectionQuery } from '@/ui/selection';
import { PROVENANCE_FIELDS } from '@/ui/provenance-fields';
import { setArchived } from '@/ui/archive-requests';

interface ManyAnswer {
  readonly refused: readonly { readonly message: string }[];
}

/** What is done to all chosen characters at once: source and licence, where fields left empty stay as they are; archiving. */
export function BulkBar({ ids, onDone }: { ids: readonly string[]; onDone: () => void }) {
  const router = useRouter();
  const [fields, setFields] = useState(NO_PROVENANCE);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [isBusy, setBusy] = useState(false);
  const [height, setHeight] = useState('');
  const tall = Number(height.replace(',', '.'));
  const given = Object.fromEntries(
    Object.entries(fields)
      .map(([field, value]) => [field, value.trim()])
      .filter(([, value]) => value !== ''),
  );
  /** Sends one change of all of them, and says what was refused. */
  const change = async (call: Parameters<typeof outcomeOf<ManyAnswer>>[0], place: string, clear: () => void) => {
    setBusy(true);
    const outcome = await outcomeOf(call, place);
    setBusy(false);
    if (!outcome.ok) return setProblem(outcome.problem);
    const { refused } = outcome.data;
    if (refused.length > 0)
      return setProblem({
        code: 'not-all',
        message: `${refused.length} characters were not changed: ${refused[0].message}`,
        place,
        remedy: 'Try again.',
      });
    clear();
    onDone();
    router.refresh();
  };
  const send = () => {
    const body = { characterIds: [...ids], provenance: given };
    return change(api.POST('/api/provenance', { body }), 'source and licence', () => setFields(NO_PROVENANCE));
  };
  const resize = () => {
    const body = { characterIds: [...ids], size: { kind: 'height' as const, metres: tall } };
    return change(api.POST('/api/sizes', { body }), 'height', () => setHeight(''));
  };
  const open = async (page: 'board' | 'checks') => {
    const selection = await selectionQuery(ids);
    if (!selection.ok) return setProblem(selection.problem);
    router.push(`/${page}?${selection.data}`);
  };
  const archive = async () => {
    setBusy(true);
    const failure = await setArchived(ids, true);
    setBusy(false);
    if (failure) return setProblem(failure);
    onDone();
    router.refresh();
  };
  return (
    <form
      className="mb-4 rounded-box border border-primary bg-base-100 px-3 py-2"
      aria-label="For the chosen characters"
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      <div className="flex flex-wrap items-end gap-3">
        <p className="w-28 font-semibold">{ids.length} chosen</p>
        {PROVENANCE_FIELDS.map(([field, label]) => (
          <label key={field} className="min-w-36 flex-1 text-[13px]">
            <span className="quiet">{label}</span>
            <input
              className="input w-full input-sm"
              maxLength={500}
              placeholder="Unchanged"
              value={fields[field]}
              onChange={(event) => setFields({ ...fields, [field]: event.target.value })}
            />
          </label>
        ))}
        <button type="submit" className="btn btn-primary btn-sm" disabled={isBusy || Object.keys(given).length === 0}>
          {isBusy ? 'Setting …' : 'Set for all'}
        </button>
        <label className="w-24 text-[13px]">
          <span className="quiet block">Height, m</span>
          <input
            className="input w-full input-sm"
            inputMode="decimal"
            placeholder="Unchanged"
            value={height}
            onChange={(event) => setHeight(event.target.value)}
          />
        </label>
        <button
          type="button"
          className="btn btn-sm"
          disabled={isBusy || !(tall >= 0.01 && tall <= 1_000)}
          onClick={() => void resize()}
        >
          Set the height
        </button>
        <button type="button" className="btn btn-sm" onClick={() => void open('board')}>
          On the board
        </button>
        <button type="button" className="btn btn-sm" onClick={() => void open('checks')}>
          Check them
        </button>
        <button type="button" className="btn btn-sm" disabled={isBusy} onClick={() => void archive()}>
          Archive
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
          Choose none
        </button>
      </div>
      {problem && (
        <div className="mt-2">
          <ProblemNote problem={problem} onClose={() => setProblem(null)} />
        </div>
      )}
    </form>
  );
}
