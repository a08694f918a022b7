import type { JobView } from '@/contract/jobs';
import { shownTexts } from '@/core/text/shown-text';
import type { JobRecord } from './job-queue';

/** A job as others see it: without what only its worker needs. */
export function jobView({
  payload: _payload,
  priority: _priority,
  isCancelled: _isCancelled,
  ...job
}: JobRecord): JobView {
  return shownTexts(job);
}
