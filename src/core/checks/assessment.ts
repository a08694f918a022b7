import type { PostureSummary } from '../posture/classify-posture';
import type { PostureMeasure } from '../posture/measure-posture';
import type { Finding } from './finding';

/** Posture and findings of a fit as it stands. */
export interface Assessment {
  readonly measure: PostureMeasure;
  readonly summary: PostureSummary;
  readonly findings: readonly Finding[];
}
