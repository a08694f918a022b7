import { POST as postCharacter } from '@/app/api/characters/route';
import { POST as postHandoff } from '@/app/api/characters/[characterId]/handoffs/route';
import type { IntakeOutcome } from '@/contract/character-view';
import { isOver, type JobView } from '@/contract/jobs';
import { databaseQueue } from '@/server/jobs/database-queue';
import { jobView } from '@/server/jobs/job-view';
import { setTimeout as wait } from 'node:timers/promises';

const LOOK_MS = 10;

/** Waits for a job as a client does. */
export async function untilOver(id: string): Promise<JobView> {
  for (;;) {
    const job = await databaseQueue.find(id);
    if (job && isOver(job)) return jobView(job);
    await wait(LOOK_MS);
  }
}

/** Statuses that these problems would have as an answer; whatever a file is refused for is 422. */
const STATUS: Readonly<Record<string, number>> = {
  blocked: 409,
  cancelled: 409,
  archived: 409,
  'changed-meanwhile': 409,
};

/** What an answer and its job say together: the result as 201, a problem as an error. */
async function settled(response: Response, result: (job: JobView, isRepeated: boolean) => unknown): Promise<Response> {
  if (response.status !== 202) return response;
  const { job, isRepeated = false } = (await response.json()) as { job: JobView; isRepeated?: boolean };
  const over = await untilOver(job.id);
  if (over.state === 'done') return Response.json(result(over, isRepeated), { status: 201 });
  const error = over.problem ?? { code: 'cancelled', message: 'Cancelled.', place: over.label, remedy: '' };
  return Response.json({ error }, { status: STATUS[error.code] ?? 422 });
}

/** Sends files and waits for what becomes of them. */
export const sendFiles = async (request: Request): Promise<Response> =>
  settled(await postCharacter(request), ({ result }, isRepeated) => {
    const { characters, refused } = result as IntakeOutcome;
    const seen = characters.map(({ path: _path, ...character }) => character);
    return { characters: seen.map((one) => (isRepeated ? { ...one, isAlreadyThere: true } : one)), refused };
  });

/** Asks for a pack and waits for it. */
export const sendHandoff = async (...given: Parameters<typeof postHandoff>): Promise<Response> =>
  settled(await postHandoff(...given), ({ result }) => result);
