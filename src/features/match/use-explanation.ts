'use client';

import { useEffect, useState } from 'react';
import type { CharacterView } from '@/contract/character-view';
import type { Definition } from '@/core/definition/definition';
import type { ExplainRequest, Explanation } from '@/core/match/explain';
import { axisVector } from '@/core/frame/normalise';
import { useCharacter } from '../character/character-context';

type Answer = Explanation | 'failed';

/** What each kind of evidence alone would answer; null while it is computed. Made once per reading of the files. */
export function useExplanation(isWanted: boolean): Answer | null {
  const { character, definition, fit } = useCharacter();
  const { facing, sideMarks } = fit.state.intake;
  const [held, setHeld] = useState<{ character: CharacterView; answer: Answer } | null>(null);
  const known = held?.character.rig === character.rig ? held.answer : null;
  useEffect(() => {
    if (!isWanted || known) return;
    const worker = startWorker(character, definition, { facing: facing ? axisVector(facing) : undefined, sideMarks });
    worker.onmessage = ({ data }: MessageEvent<Explanation>) => setHeld({ character, answer: data });
    worker.onerror = () => setHeld({ character, answer: 'failed' });
    return () => worker.terminate();
  }, [isWanted, known, character, definition, facing, sideMarks]);
  return known;
}

function startWorker({ rig }: CharacterView, definition: Definition, options: ExplainRequest['options']): Worker {
  const worker = new Worker(new URL('../../workers/browser/explain.worker.ts', import.meta.url), { type: 'module' });
  worker.postMessage({ rig, definition, options } satisfies ExplainRequest);
  return worker;
}
