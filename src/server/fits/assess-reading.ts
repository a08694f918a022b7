import type { CharacterState } from '@/contract/character-view';
import type { Assessment } from '@/core/checks/assessment';
import { countBlockers } from '@/core/checks/run-checks';
import type { FitState } from '@/core/fit/fit';
import { clashingRoles, doubtsOf } from '@/core/fit/review';
import type { DrillResult } from '@/core/plan/drill-result';
import { today } from '@/pipeline/judge';
import { countedBy, type Yardsticks } from '../library/count-names';
import { entry, newest } from '../library/library';
import { studioProfile } from '../library/studio';
import type { MatchedReading } from '../matches/matched-reading';
import { askJudge } from '../work/judge-thread';

/** What the roster shows of a fit, and what it was counted by; kept beside the fit. */
export interface FitCounts {
  readonly doubts: number;
  readonly blockers: number;
  readonly countedBy: string;
}

type Read = Pick<MatchedReading, 'rig' | 'match' | 'normalisation' | 'origins' | 'bytes'>;

export async function yardsticksOf(
  state: Pick<FitState, 'definitionId' | 'definitionVersion' | 'profile'>,
): Promise<Yardsticks> {
  const [definition, profile] = await Promise.all([
    entry('definition', state.definitionId, state.definitionVersion),
    state.profile === null ? studioProfile() : newest('profile', state.profile),
  ]);
  return { definition, profile };
}

/** What was found last on each match: a change is counted, and then shown, on one and the same state. */
const lastOf = new WeakMap<Read['match'], { readonly key: string; readonly assessment: Promise<Assessment> }>();

/** Posture and findings of a fit on a reading. */
export function assessReading(
  reading: Read,
  fit: FitState,
  yardsticks: Yardsticks,
  { day = today(), drill = [] }: { readonly day?: string; readonly drill?: readonly DrillResult[] } = {},
): Promise<Assessment> {
  const { definition, profile } = yardsticks;
  const key = JSON.stringify([fit, definition.id, definition.version, profile.id, profile.version, day, drill]);
  const known = lastOf.get(reading.match);
  if (known?.key === key) return known.assessment;
  const assessment = askJudge({ name: 'assess', fit, drill, yardsticks, day }, reading, reading.bytes);
  lastOf.set(reading.match, { key, assessment });
  // What failed may be asked again.
  assessment.catch(() => lastOf.delete(reading.match));
  return assessment;
}

export async function countReading(
  reading: Read,
  state: FitState,
  yardsticks: Yardsticks,
  day = today(),
): Promise<FitCounts> {
  const { findings } = await assessReading(reading, state, yardsticks, { day });
  return {
    doubts: doubtsOf(yardsticks.definition, state, clashingRoles(findings)).length,
    blockers: countBlockers(findings),
    countedBy: countedBy(yardsticks, state, day),
  };
}

/** The state of a character after a change of its fit. */
export function stateAfterChange(
  state: CharacterState,
  { doubts, blockers }: Pick<FitCounts, 'doubts' | 'blockers'>,
): CharacterState {
  if (state === 'handed off' || state === 'reopened') return 'reopened';
  return doubts === 0 && blockers === 0 ? 'ready' : 'in work';
}
