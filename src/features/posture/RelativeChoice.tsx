'use client';

import { useState } from 'react';
import type { CharacterView } from '@/contract/character-view';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { useCharacter } from '../character/character-context';
import { useRoster } from '../character/use-roster';

interface RelativeChoiceProps {
  readonly onChoose: (other: CharacterView) => void;
  readonly onFail: (text: string) => void;
}

/** Another character, to take its posture: it must have the same bones under the same names. */
export function RelativeChoice({ onChoose, onFail }: RelativeChoiceProps) {
  const { character, definition } = useCharacter();
  const roster = useRoster();
  const [chosen, setChosen] = useState('');
  const choose = async (id: string) => {
    setChosen(id);
    if (id === '') return;
    const params = { path: { characterId: id }, query: { definition: definition.id } };
    const outcome = await outcomeOf(api.GET('/api/characters/{characterId}', { params }), 'character');
    if (outcome.ok) onChoose(outcome.data);
    else onFail(`That character could not be fetched: ${outcome.problem.message} Choose it again, or another one.`);
  };
  return (
    <select
      aria-label="Take the pose of"
      className="select w-full select-xs"
      value={chosen}
      onChange={(event) => void choose(event.target.value)}
    >
      <option value="">Which character?</option>
      {roster
        .filter(({ id, isHumanoid }) => id !== character.id && isHumanoid)
        .map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
    </select>
  );
}
