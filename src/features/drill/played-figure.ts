import type { FigureSetFrame } from '@/ui/stage/figure-set';
import type { DrillBlock, DrillInfo } from '@/workers/browser/drill.worker';

type FigureInfo = Pick<DrillInfo['figures'][number], 'turned' | 'placed' | 'morphs'>;
type FigureFrames = Pick<DrillBlock['figures'][number], 'rotations' | 'translations' | 'morphs'>;

/** What moves of a figure in a frame of its block. @param at the frame, counted from the block's first. */
export const playedFigure = (
  { turned, placed, morphs }: FigureInfo,
  frames: FigureFrames,
  at: number,
): Omit<FigureSetFrame, 'guests'> => ({
  turned: { bones: turned, values: frames.rotations, at: at * turned.length * 4 },
  placed: { bones: placed, values: frames.translations, at: at * placed.length * 3 },
  morphs: { names: morphs, values: frames.morphs, at: at * morphs.length },
});
