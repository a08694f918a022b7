import type { JobView } from '@/contract/jobs';
import type { Problem } from '@/core/errors/yarvo-error';

/** Why a job that is over did not do what it was for; null where it did. */
export function jobProblem(job: JobView): Problem | null {
  if (job.state === 'done') return null;
  if (job.state === 'cancelled')
    return {
      code: 'cancelled',
      message: 'Cancelled; nothing was kept.',
      place: job.label,
      remedy: 'Start it again if it is wanted.',
    };
  return (
    job.problem ?? {
      code: 'unexpected',
      message: 'It failed without a reason.',
      place: job.label,
      remedy: 'Try again.',
    }
  );
}
