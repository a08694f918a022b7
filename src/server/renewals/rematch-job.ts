import { randomUUID } from 'node:crypto';
import type { JobQueue } from '../jobs/job-queue';
import type { JobHandler } from '../jobs/runner';
import { reviewFit } from './renewals';

interface RematchPayload {
  readonly characterId: string;
  readonly definitionId: string;
}

/** Queues the second look at a fit that an older reader or matcher made, unless it is queued. @returns whether it was. */
export async function queueRematch(queue: JobQueue, fit: RematchPayload, label: string): Promise<boolean> {
  const subject = `${fit.characterId} ${fit.definitionId}`;
  const [waiting] = await queue.list({ subject, kind: 'rematch', states: ['queued', 'running'] });
  if (waiting) return false;
  // Whatever a person waits for goes first.
  const job = {
    id: randomUUID(),
    kind: 'rematch' as const,
    subject,
    label,
    author: 'Yarvo',
    payload: fit,
    priority: -10,
  };
  await queue.add(job);
  return true;
}

export const rematchHandler: JobHandler = {
  work({ payload }) {
    const { characterId, definitionId } = payload as RematchPayload;
    return reviewFit(characterId, definitionId);
  },
};
