'use client';

import { useState } from 'react';
import type { FitAction } from '@/core/fit/actions/fit-actions';
import type { Layer } from '@/core/motion/layer';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { newId } from '@/ui/new-id';
import { useCharacter } from '../../character/character-context';
import { useRoster } from '../../character/use-roster';

/** Copies layers to other characters: each copy is its own, and a change of that character's fit. */
export function CopyLayers({ layers, onDone }: { readonly layers: readonly Layer[]; readonly onDone: () => void }) {
  const { character, definition } = useCharacter();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [said, setSaid] = useState<string | null>(null);
  const others = useRoster().filter(
    ({ id, isHumanoid, kind }) => id !== character.id && isHumanoid && kind !== 'motion',
  );
  const copy = async (): Promise<void> => {
    const refused: string[] = [];
    for (const { id, name } of others.filter((other) => chosen.has(other.id))) {
      const problem = await copyTo(id, definition.id, layers);
      if (problem) refused.push(`${name}: ${problem}`);
    }
    if (refused.length > 0) setSaid(refused.join(' '));
    else onDone();
  };
  return (
    <div className="my-1 rounded-box border border-base-300 p-2">
      <ul className="max-h-32 overflow-auto">
        {others.map(({ id, name }) => (
          <li key={id}>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={chosen.has(id)}
                onChange={(event) => {
                  const next = new Set(chosen);
                  if (event.target.checked) next.add(id);
                  else next.delete(id);
                  setChosen(next);
                }}
              />
              <span className="truncate">{name}</span>
            </label>
          </li>
        ))}
      </ul>
      {said && (
        <p role="alert" className="text-error">
          {said}
        </p>
      )}
      <button className="btn mt-1 btn-primary btn-xs" disabled={chosen.size === 0} onClick={() => void copy()}>
        Copy {layers.length} to {chosen.size}
      </button>
    </div>
  );
}

/** @returns why it was refused; null where it was copied. */
async function copyTo(characterId: string, definitionId: string, layers: readonly Layer[]): Promise<string | null> {
  const path = { characterId };
  const found = await outcomeOf(
    api.GET('/api/characters/{characterId}', { params: { path, query: { definition: definitionId } } }),
    'character',
  );
  if (!found.ok) return found.problem.message;
  const { fit } = found.data;
  const copies = layers.map((layer) => ({ ...layer, id: newId() }));
  const action: FitAction = { kind: 'set-carrying', change: { layers: [...fit.state.carrying.layers, ...copies] } };
  const sent = await outcomeOf(
    api.POST('/api/characters/{characterId}/fit/changes', {
      params: { path },
      body: { action, baseRevision: fit.revision, definitionId },
    }),
    'fit',
  );
  return sent.ok ? null : sent.problem.message;
}
