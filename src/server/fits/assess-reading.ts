import type { CharacterState } from '@/contract/character-view';
import type { Assessment } from '@/core/checks/assessment';
import { countBlockers } from '@/core/checks/run-checks';
import type { Definition } from '@/core/definition/definition';
import { countDoubts, type FitState } from '@/core/fit/fit';
import type { DrillResult } from '@/core/plan/drill-result';
import type { EngineProfile } from '@/core/profile/profile';
import { assessFit, today } from '@/pipeline/judge';
import { ASSESSMENT_VERSION } from '@/pipeline/versions';
import { entry, newest } from '../library/library';
import { studioProfile } from '../library/studio';
import type { MatchedReading } from '../matches/matched-reading';

/** What the roster shows of a fit, and what it was counted by; kept beside the fit. */
export interface FitCounts {
  readonly doubts: number;
  readonly blockers: number;
  readonly countedBy: string;
}

type Read = Pick<MatchedReading, 'rig' | 'match' | 'normalisation'>;

/** What a fit is judged by. */
export interface Yardsticks {
  readonly definition: Definition;
  readonly profile: EngineProfile;
}

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
const lastOf = new WeakMap<Read['match'], { readonly key: string; readonly assessment: Assessment }>();

/** Posture and findings of a fit on a reading. */
export function assessReading(
  reading: Read,
  fit: FitState,
  yardsticks: Yardsticks,
  { day = today(), drill = [] }: { readonly day?: string; readonly drill?: readonly DrillResult[] } = {},
): Assessment {
  const { rig, match, normalisation } = reading;
  const { definition, profile } = yardsticks;
  const key = JSON.stringify([fit, definition.id, definition.version, profile.id, profile.version, day, drill]);
  const known = lastOf.get(match);
  if (known?.key === key) return known.assessment;
  const assessment = assessFit({ rig, match, normalisation, fit, drill, ...yardsticks }, day);
  lastOf.set(match, { key, assessment });
  return assessment;
}

export const countReading = (reading: Read, state: FitState, yardsticks: Yardsticks, day = today()): FitCounts => ({
  doubts: countDoubts(state),
  blockers: countBlockers(assessReading(reading, state, yardsticks, { day }).findings),
  countedBy: countedBy(yardsticks, state, day),
});

/**
 * Names everything that the counts of a fit depend on beside the fit and its reading: what it is judged by, and the last
 * day of the next waiver that runs out.
 */
export function countedBy({ definition, profile }: Yardsticks, { waivers }: Pick<FitState, 'waivers'>, day = today()) {
  const next = waivers.flatMap(({ until }) => (until !== null && until >= day ? [until] : [])).sort()[0];
  const by = `${ASSESSMENT_VERSION} ${definition.id}@${definition.version} ${profile.id}@${profile.version}`;
  return next === undefined ? by : `${by}${UNTIL}${next}`;
}

const UNTIL = ' until ';

/** What was counted by, and the last day on which that holds; null for good. */
export function partsOfCount(by: string): { readonly yardsticks: string; readonly until: string | null } {
  const [yardsticks, until = null] = by.split(UNTIL);
  return { yardsticks, until };
}

/** The state of a character after a change of its fit. */
export function stateAfterChange(
  state: CharacterState,
  { doubts, blockers }: Pick<FitCounts, 'doubts' | 'blockers'>,
): CharacterState {
  if (state === 'handed off' || state === 'reopened') return 'reopened';
  return doubts === 0 && blockers === 0 ? 'ready' : 'in work';
}
