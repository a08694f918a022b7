import type { DrillJudgement } from '@/core/drill/judge/judge-motion';
import type { Measure } from '@/core/drill/judge/measure';

/** A judgement as a page gets it. */
export interface DrillJudged extends Omit<DrillJudgement, 'measures'> {
  readonly measures: readonly Omit<Measure, 'isExcused'>[];
}

/** What a measure excuses is a function, and stays in the worker. */
export const forPage = ({ measures, ...judgement }: DrillJudgement): DrillJudged => ({
  ...judgement,
  measures: measures.map(({ isExcused: _isExcused, ...measure }) => measure),
});
