import type { PostureSummary } from '../posture/classify-posture';
import type { PostureMeasure } from '../posture/measure-posture';
import type { Waived } from '../waivers/waiver';
import type { Finding } from './finding';

/** Posture and findings of a fit as it stands. */
export interface Assessment {
  readonly measure: PostureMeasure;
  readonly summary: PostureSummary;
  /** Those that are open. */
  readonly findings: readonly Finding[];
  readonly waived: readonly Waived<Finding>[];
  /** Waivers that no longer hold, with what they were given for. */
  readonly reopened: readonly Waived<Finding>[];
}
