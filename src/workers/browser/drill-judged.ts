import type { DrillJudgement } from '@/core/drill/judge/judge-motion';
import type { Measure } from '@/core/drill/judge/measure';
import type { PoseReading } from '@/core/drill/judge/pose-watch';

/** A measure as a page gets it: what it excuses is a function, and stays in the worker. */
type PageMeasure = Omit<Measure, 'isExcused'>;

export interface DrillJudged extends Omit<DrillJudgement, 'measures'> {
  readonly measures: readonly PageMeasure[];
}

export interface DrillWatched extends Omit<PoseReading, 'measures'> {
  readonly measures: readonly PageMeasure[];
}

export const withoutExcuse = ({ isExcused: _isExcused, ...measure }: Measure): PageMeasure => measure;

export const forPage = ({ measures, ...judgement }: DrillJudgement): DrillJudged => ({
  ...judgement,
  measures: measures.map(withoutExcuse),
});
