import type { FitState } from '@/core/fit/fit';
import type { Definition } from '@/core/definition/definition';
import type { EngineProfile } from '@/core/profile/profile';
import { today } from '@/pipeline/judge';
import { ASSESSMENT_VERSION } from '@/pipeline/versions';

/** What a fit is judged by. */
export interface Yardsticks {
  readonly definition: Definition;
  readonly profile: EngineProfile;
}

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
