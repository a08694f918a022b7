'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { WaiverRow } from '@/contract/studio';
import type { Problem } from '@/core/errors/yarvo-error';
import { api } from '@/ui/api';
import { ProblemNote } from '@/ui/ProblemNote';

/** What was accepted on any character, by whom, and until when; each can be taken back. */
export function WaiverTable({ waivers }: { readonly waivers: readonly WaiverRow[] }) {
  const router = useRouter();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState<string | null>(null);
  const takeBack = async (row: WaiverRow): Promise<void> => {
    const { finding, check } = row.waiver;
    setBusy(keyOf(row));
    const outcome = await outcomeOf(
      api.POST('/api/characters/{characterId}/fit/waivers/back', {
        params: { path: { characterId: row.characterId } },
        body: {
          baseRevision: row.revision,
          definitionId: row.definition,
          ...(finding !== null ? { finding } : { check: check ?? '' }),
        },
      }),
      row.character,
    );
    setBusy(null);
    setProblem(outcome.ok ? null : outcome.problem);
    router.refresh();
  };
  return (
    <section aria-label="Waivers">
      <h2 className="text-base font-semibold">Waivers</h2>
      <p className="quiet text-[13px]">
        Findings that somebody accepted. A waiver whose day has passed, or whose value got worse, leaves its finding
        open.
      </p>
      {problem && <ProblemNote problem={problem} onClose={() => setProblem(null)} />}
      {waivers.length === 0 ? (
        <p className="mt-3">Nothing was waived.</p>
      ) : (
        <table className="table mt-2 table-sm">
          <thead>
            <tr>
              <th>Character</th>
              <th>What</th>
              <th>Why</th>
              <th>Who, when</th>
              <th>Until</th>
              <th aria-label="Take back" />
            </tr>
          </thead>
          <tbody>
            {waivers.map((row) => {
              const { waiver, character, characterId, hasRunOut, isClosed } = row;
              return (
                <tr key={keyOf(row)} className="align-top">
                  <td>
                    <Link className="link link-hover" href={`/characters/${characterId}/findings`}>
                      {character}
                    </Link>
                  </td>
                  <td className="font-mono text-xs">{waiver.check ?? waiver.finding?.split('/')[0]}</td>
                  <td className="max-w-80 break-words">{waiver.reason}</td>
                  <td>
                    {waiver.author}, {waiver.date}
                  </td>
                  <td className={hasRunOut ? 'text-warning' : ''}>
                    {waiver.until ?? 'open end'}
                    {hasRunOut && ', ran out'}
                  </td>
                  <td>
                    <button
                      className="btn btn-ghost btn-xs"
                      disabled={isClosed || busy !== null}
                      onClick={() => void takeBack(row)}
                    >
                      Take back
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
}

const keyOf = ({ characterId, definition, waiver }: WaiverRow): string =>
  JSON.stringify([characterId, definition, waiver.finding, waiver.check]);
