'use client';

import Link from 'next/link';
import { CircleAlert } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { Board } from '@/contract/board';
import { outcomeOf } from '@/contract/client';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';
import { useCharacter } from '../character/character-context';
import { stepAddress } from '../character/step-address';

/** What the drill found when motions were carried to the character, the most harmful first. */
export function DrillFindings() {
  const { character } = useCharacter();
  const [board, setBoard] = useState<Board | 'failed' | null>(null);
  useEffect(() => {
    let isGone = false;
    void outcomeOf(api.GET('/api/board', { params: { query: { characters: character.id } } }), 'board').then(
      (outcome) => !isGone && setBoard(outcome.ok ? outcome.data : 'failed'),
    );
    return () => {
      isGone = true;
    };
  }, [character.id]);
  if (board === null) return null;
  if (board === 'failed')
    return <p className="quiet mt-4">What the drill found could not be fetched. Reload the page.</p>;
  const drilled = board.cells.filter(({ state, drilled: found }) => state === 'carried' && found);
  const flagged = drilled
    .filter(({ drilled: found }) => (found?.count ?? 0) > 0)
    .sort((a, b) => (b.drilled?.harm ?? 0) - (a.drilled?.harm ?? 0));
  const nameOf = (key: string): string => board.motions.find((motion) => motion.key === key)?.name ?? key;
  return (
    <section aria-label="From the drill" className="mt-6">
      <h2 className="font-semibold">
        From the drill{' '}
        <span className="quiet font-normal">
          {drilled.length === 0
            ? 'no motion was carried to it as it stands'
            : `${countText(drilled.length, 'motion')} carried, ${flagged.length === 0 ? 'none' : flagged.length} with flags`}
        </span>
      </h2>
      <p className="text-[13px]">
        <Link className="link link-primary" href={`/board?characters=${character.id}`}>
          {drilled.length === 0 ? 'Carry motions to it on the board' : 'Its row on the board'}
        </Link>
      </p>
      <ol className="mt-3 space-y-2">
        {flagged.map(({ motionKey, drilled: found }) =>
          found?.worst.slice(0, 1).map(({ measure, frame, sentence }) => (
            <li key={`${motionKey} ${measure}`} className="rounded-box border border-base-300 bg-base-100 p-3">
              <div className="flex items-start gap-3">
                <CircleAlert aria-hidden className="mt-0.5 size-4 shrink-0 text-warning" />
                <p className="min-w-0 flex-1">
                  <span className="mr-1.5 text-warning">Caution</span>
                  <span className="font-medium">{nameOf(motionKey)}.</span> {sentence}
                  {found.count > 1 && <span className="quiet"> And {countText(found.count - 1, 'more flag')}.</span>}
                </p>
                <Link
                  className="btn shrink-0 btn-xs"
                  href={stepAddress(character, 'drill', { motion: motionKey, frame })}
                >
                  Go to frame {frame}
                </Link>
              </div>
            </li>
          )),
        )}
      </ol>
    </section>
  );
}
