'use client';

import { useEffect, useState } from 'react';
import type { CharacterView } from '@/contract/character-view';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';

/** The character as fitted to the definition in the address. */
export type FitTo =
  | { readonly status: 'ready'; readonly character: CharacterView }
  | { readonly status: 'loading'; readonly label: string }
  | { readonly status: 'none'; readonly label: string };

/** @param given the character with its fit to the studio's own definition. @param wanted null for that one. */
export function useFitTo(given: CharacterView, wanted: string | null): FitTo {
  const [held, setHeld] = useState<{ of: CharacterView; wanted: string; answer: CharacterView | null } | null>(null);
  const isGiven = wanted === null || wanted === given.definition.id;
  useEffect(() => {
    if (isGiven) return;
    let isGone = false;
    const params = { path: { characterId: given.id }, query: { definition: wanted } };
    void outcomeOf(api.GET('/api/characters/{characterId}', { params }), given.name).then((outcome) => {
      if (!isGone) setHeld({ of: given, wanted, answer: outcome.ok ? outcome.data : null });
    });
    return () => {
      isGone = true;
    };
  }, [given, wanted, isGiven]);
  if (isGiven) return { status: 'ready', character: given };
  const label = given.definitions.find(({ id }) => id === wanted)?.label ?? wanted;
  if (held?.wanted !== wanted || held.of.id !== given.id) return { status: 'loading', label };
  return held.answer ? { status: 'ready', character: held.answer } : { status: 'none', label };
}
