'use client';

import { useMemo } from 'react';
import { roleBonesOf, type FitState } from '@/core/fit/fit';
import type { AlignInput } from '@/core/posture/align-order';
import { useCharacter } from '../character/character-context';

/** The figure as posture is worked out on; the same object as long as rig, definition and assignments are. */
export function useAlignInput(): AlignInput {
  const { character, definition, fit } = useCharacter();
  const { rig, normalisation } = character;
  // Each answer of the server brings assignments anew; what counts is whether they say something else.
  const key = JSON.stringify(fit.state.assignments);
  const roleBones = useMemo(() => roleBonesOf({ assignments: JSON.parse(key) as FitState['assignments'] }), [key]);
  return useMemo(() => ({ rig, definition, normalisation, roleBones }), [rig, definition, normalisation, roleBones]);
}
