import { useState } from 'react';
import type { DrillFlag } from '@/core/drill/judge/judge-motion';
import { nextFlag } from './chart/lanes';
import type { Player } from './player';
import { writeDrill } from './use-drill-address';
import type { JudgedState } from './use-judged';

export interface FlagChoice {
  /** The one in focus; null where none is, or it was mended. */
  readonly flag: DrillFlag | null;
  readonly choose: (flag: DrillFlag) => void;
  /** Goes to the next in time, or to the one before. */
  readonly onNextFlag: (step: 1 | -1) => void;
}

/** Which flag is looked at. The stage goes to its worst frame. */
export function useFlags({ judged, isOld }: JudgedState, player: Player | null): FlagChoice {
  const [wanted, setWanted] = useState<{ readonly measure: string; readonly fromFrame: number } | null>(null);
  const flags = judged?.flags ?? [];
  const flag =
    flags.find(({ measure, fromFrame }) => measure === wanted?.measure && fromFrame === wanted.fromFrame) ?? null;
  const choose = (next: DrillFlag): void => {
    setWanted(next);
    player?.pause();
    player?.seek(next.worstFrame);
    writeDrill({ frame: next.worstFrame });
  };
  return {
    flag: isOld ? null : flag,
    choose,
    onNextFlag: (step) => {
      const next = player && nextFlag(flags, player.current.frame, step);
      if (next) choose(next);
    },
  };
}
