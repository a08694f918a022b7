'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { RenewalView } from '@/contract/renewals';
import type { Problem } from '@/core/errors/yarvo-error';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { ProblemNote } from '@/ui/ProblemNote';

const MOST_SHOWN = 5;

/** Characters that a newer reader or matcher sees otherwise: what would change in each, until somebody accepts it. */
export function RenewalList({ renewals }: { renewals: readonly RenewalView[] }) {
  const router = useRouter();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [isBusy, setBusy] = useState(false);
  if (renewals.length === 0) return null;
  const accept = async (chosen: readonly RenewalView[]) => {
    setBusy(true);
    setProblem(await acceptRenewals(chosen));
    setBusy(false);
    router.refresh();
  };
  return (
    <section aria-label="Changes by a newer version" className="mb-4 rounded-box border border-warning bg-base-100">
      <header className="flex items-center gap-3 border-b border-base-300 px-3 py-2">
        <h2 className="flex-1">
          <span className="font-semibold">
            {renewals.length} {renewals.length === 1 ? 'character' : 'characters'}
          </span>{' '}
          would change: this version of Yarvo reads or matches them differently. Settled roles stay. Until you accept,
          each keeps what it has.
        </h2>
        <button className="btn btn-sm" disabled={isBusy} onClick={() => void accept(renewals)}>
          {isBusy ? 'Accepting …' : 'Accept all'}
        </button>
      </header>
      <ul className="max-h-72 divide-y divide-base-300 overflow-auto">
        {renewals.map((renewal) => (
          <li key={`${renewal.characterId} ${renewal.definitionId}`} className="flex items-start gap-3 px-3 py-1.5">
            <Link
              className="w-44 shrink-0 font-semibold hover:underline"
              href={`/characters/${renewal.characterId}/match`}
            >
              {renewal.name}
            </Link>
            <ul className="min-w-0 flex-1 text-[13px]">
              {renewal.changes.slice(0, MOST_SHOWN).map((change) => (
                <li key={change.role}>{changeText(change)}</li>
              ))}
              {renewal.changes.length > MOST_SHOWN && (
                <li className="quiet">and {renewal.changes.length - MOST_SHOWN} more</li>
              )}
            </ul>
            <button
              className="btn btn-ghost btn-sm"
              disabled={isBusy}
              aria-label={`Accept for ${renewal.name}`}
              onClick={() => void accept([renewal])}
            >
              Accept
            </button>
          </li>
        ))}
      </ul>
      {problem && (
        <div className="p-2">
          <ProblemNote problem={problem} onClose={() => setProblem(null)} />
        </div>
      )}
    </section>
  );
}

function changeText({ label, from, to, kind }: RenewalView['changes'][number]): string {
  if (kind === 'lost') return `${label}: its settled bone ${from} is not found any more`;
  if (kind === 'doubt') return `${label}: ${to} stays, but is more or less sure than before`;
  if (to === null) return `${label}: ${from} is no longer proposed`;
  return from === null ? `${label}: ${to} is proposed` : `${label}: ${to} instead of ${from}`;
}

async function acceptRenewals(renewals: readonly RenewalView[]): Promise<Problem | null> {
  const fits = renewals.map(({ characterId, definitionId }) => ({ characterId, definitionId }));
  const outcome = await outcomeOf(api.POST('/api/renewals', { body: { fits } }), 'roster');
  if (!outcome.ok) return outcome.problem;
  const left = fits.length - outcome.data.accepted;
  if (left === 0) return null;
  return {
    code: 'not-all',
    message: `${left} of ${fits.length} were not changed: somebody changed them meanwhile, or they are closed or archived.`,
    place: 'roster',
    remedy: 'Look at what is left and accept again.',
  };
}
