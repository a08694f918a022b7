import { useCallback, useRef, useState } from 'react';
import type { StageView } from '@/ui/stage/stage-view';

export interface MorphPreview {
  readonly weights: ReadonlyMap<string, number>;
  readonly show: (target: string, weight: number) => void;
  readonly rest: () => void;
  /** Hands the weights to a stage. */
  readonly attach: (stage: StageView) => () => void;
}

/** Weights of morph targets that are tried on the stage; nothing of it is kept. */
export function useMorphPreview(): MorphPreview {
  const [weights, setWeights] = useState<ReadonlyMap<string, number>>(new Map());
  const stage = useRef<StageView | null>(null);
  const held = useRef(weights);
  const set = useCallback((next: ReadonlyMap<string, number>) => {
    held.current = next;
    setWeights(next);
    stage.current?.showMorphs(next);
  }, []);
  const attach = useCallback((view: StageView) => {
    stage.current = view;
    view.showMorphs(held.current);
    return () => {
      stage.current = null;
    };
  }, []);
  const show = useCallback(
    (target: string, weight: number) => set(new Map([...held.current, [target, weight]])),
    [set],
  );
  const rest = useCallback(() => set(new Map()), [set]);
  return { weights, show, rest, attach };
}
