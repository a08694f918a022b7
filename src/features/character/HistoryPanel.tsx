'use client';

import { useState } from 'react';
import type { HistoryEntry } from '@/contract/character-view';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { momentText } from '@/ui/text';
import { useCharacter } from './character-context';
import { joinHistory } from './history-pages';

/** Every step of the fit, newest first; any of them can be brought back. */
export function HistoryPanel({ onClose }: { onClose: () => void }) {
  const { character, definition, fit, act, restore } = useCharacter();
  /** All steps that were shown when older ones were last fetched, and those. */
  const [held, setHeld] = useState<readonly HistoryEntry[]>([]);
  const [problem, setProblem] = useState('');
  const entries = joinHistory(fit.history, held);
  const oldestShown = entries[entries.length - 1]?.revision ?? 0;
  const showOlder = async () => {
    const params = { path: { characterId: character.id }, query: { before: oldestShown, definition: definition.id } };
    const outcome = await outcomeOf(api.GET('/api/characters/{characterId}/fit/history', { params }), 'history');
    if (!outcome.ok) {
      setProblem('The older steps could not be fetched. Try again.');
      return;
    }
    const { history } = outcome.data;
    setProblem('');
    setHeld([...entries, ...history]);
  };
  return (
    <section
      aria-label="History"
      className="absolute right-0 z-30 mt-1 w-[30rem] rounded-box border border-base-300 bg-base-100 p-1 shadow-md"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
      }}
    >
      <div className="flex items-baseline gap-3 px-2 py-1">
        <h2 className="font-semibold">History</h2>
        {!fit.state.isClosed && (
          <button className="ml-auto link text-[13px] link-hover" onClick={() => act({ kind: 'close' })}>
            Close the fit
          </button>
        )}
      </div>
      <ol className="max-h-96 overflow-auto">
        {entries.map((entry) => (
          <li
            key={entry.revision}
            className="group flex items-baseline gap-2 rounded-field px-2 py-1 text-[13px] hover:bg-base-200"
          >
            <span className="quiet w-7 shrink-0 text-right tabular-nums">{entry.revision}</span>
            <span className="min-w-0 flex-1 truncate" title={entry.description}>
              {entry.description}
            </span>
            <span className="quiet whitespace-nowrap">
              {entry.author}, {momentText(entry.at)}
            </span>
            {entry.revision === fit.revision ? (
              <span className="w-16 text-right text-success">Now</span>
            ) : (
              <button
                className="w-16 link text-right text-primary link-hover disabled:opacity-50"
                disabled={fit.state.isClosed}
                aria-label={`Go back to revision ${entry.revision}`}
                onClick={() => restore(entry.revision)}
              >
                Go back
              </button>
            )}
          </li>
        ))}
      </ol>
      {problem && (
        <p role="alert" className="px-2 py-1 text-[13px] text-error">
          {problem}
        </p>
      )}
      {oldestShown > 0 && (
        <button className="btn w-full btn-ghost font-normal btn-sm" onClick={showOlder}>
          Older steps
        </button>
      )}
    </section>
  );
}
