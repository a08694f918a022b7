'use client';

import Link from 'next/link';
import { useEffect, useState } from 'react';
import type { Board } from '@/contract/board';
import { outcomeOf } from '@/contract/client';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';
import { useCharacter } from '../character/character-context';

/** How many motions were carried to the character as it stands: what they showed is among the findings. */
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
    return <p className="quiet mt-4">Which motions were carried could not be fetched. Reload the page.</p>;
  const drilled = board.cells.filter(({ state, drilled: found }) => state === 'carried' && found);
  const flagged = drilled.filter(({ drilled: found }) => (found?.count ?? 0) > 0);
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
    </section>
  );
}
