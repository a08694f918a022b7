'use client';

import { usePathname, useRouter } from 'next/navigation';
import { useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { Problem } from '@/core/errors/yarvo-error';
import { ProblemNote } from '@/ui/ProblemNote';
import { api } from '@/ui/api';
import { useCharacter } from './character-context';
import { stepAddress } from './step-address';

/** The definitions of the studio: chooses the fit that is looked at, and starts one that is not there yet. */
export function DefinitionList() {
  const { character, definition } = useCharacter();
  const router = useRouter();
  const pathname = usePathname();
  const [isStarting, setStarting] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const open = async (id: string) => {
    const chosen = character.definitions.find((each) => each.id === id);
    if (!chosen || id === definition.id) return;
    if (!chosen.hasFit) {
      setStarting(true);
      const params = { path: { characterId: character.id } };
      const outcome = await outcomeOf(
        api.POST('/api/characters/{characterId}/fits', { params, body: { definitionId: id } }),
        character.name,
      );
      setStarting(false);
      if (!outcome.ok && outcome.problem.code !== 'already-there') return setProblem(outcome.problem);
      router.refresh();
    }
    const step = pathname.slice(pathname.lastIndexOf('/') + 1);
    router.push(stepAddress({ ...character, definition: { ...definition, id } }, step));
  };
  return (
    <div className="relative">
      <select
        aria-label="Fitted to"
        title="The definition that this fit is to"
        className="select w-34 select-xs"
        value={definition.id}
        disabled={isStarting}
        onChange={(event) => void open(event.target.value)}
      >
        {character.definitions.map(({ id, label, hasFit }) => (
          <option key={id} value={id}>
            {label}
            {hasFit ? '' : ' (start a fit)'}
          </option>
        ))}
      </select>
      {problem && (
        <div className="absolute top-8 left-0 z-30 w-96">
          <ProblemNote problem={problem} onClose={() => setProblem(null)} />
        </div>
      )}
    </div>
  );
}
