import { ASSESSMENT_VERSION, assessFit } from '@/pipeline/judge';
import type { Assessment } from '@/core/checks/assessment';
import type { CharacterState } from '@/contract/character-view';
import { countBlockers } from '@/core/checks/run-checks';
import { countDoubts, type FitState } from '@/core/fit/fit';
import type { InterpretationRecord } from '../readings/interpretations';
import { defaultProfile, definitionOf } from '../library/definitions';

export interface FitCounts {
  readonly doubts: number;
  readonly blockers: number;
}

type Read = Pick<InterpretationRecord, 'rig' | 'match' | 'normalisation'>;

/** Posture and findings of a fit on a reading, against the studio's engine profile. */
export const assessReading = ({ rig, match, normalisation }: Read, state: FitState): Assessment =>
  assessFit({
    rig,
    match,
    normalisation,
    fit: state,
    definition: definitionOf(state.definitionId),
    profile: defaultProfile(),
  });

/** What the roster shows of a fit; kept beside it, and made again when `countedBy` changes. */
export const countReading = (reading: Read, state: FitState): FitCounts => ({
  doubts: countDoubts(state),
  blockers: countBlockers(assessReading(reading, state).findings),
});

/** Names everything that the counts of a fit depend on beside the fit and its reading. */
export function countedBy(state: Pick<FitState, 'definitionId'>): string {
  const [definition, profile] = [definitionOf(state.definitionId), defaultProfile()];
  return `${ASSESSMENT_VERSION} ${definition.id}@${definition.version} ${profile.id}@${profile.version}`;
}

/** The state of a character after a change of its fit. */
export function stateAfterChange(state: CharacterState, { doubts, blockers }: FitCounts): CharacterState {
  if (state === 'handed off' || state === 'reopened') return 'reopened';
  return doubts === 0 && blockers === 0 ? 'ready' : 'in work';
}
