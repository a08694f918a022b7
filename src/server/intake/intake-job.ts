import { createHash } from 'node:crypto';
import { Op } from 'sequelize';
import type { IntakeOutcome } from '@/contract/character-view';
import { isWorthRetry } from '@/contract/jobs';
import { YarvoError } from '@/core/errors/yarvo-error';
import { shortenMiddle } from '@/core/text/shorten';
import { distinctFiles } from '../characters/upload-paths';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import type { JobQueue, JobRecord } from '../jobs/job-queue';
import type { JobHandler } from '../jobs/runner';
import { processWide } from '../settings/process-wide';
import type { ArrivedFile } from '../uploads/arrived-file';
import { dropUpload, insertUpload } from '../uploads/upload-repository';
import { shelveUpload } from './shelve-upload';
import { takeBack, takeIn } from './take-in';

/** A sender who got no answer tries again within minutes. */
const AGAIN_WITHIN_MS = 10 * 60_000;

/** Uploads whose senders still wait for an answer from this process. */
const onTheirWay = processWide('uploads on their way', () => new Set<string>());
/** Uploads that were cancelled before all of them had come. */
const cancelledEarly = processWide('uploads cancelled early', () => new Set<string>());

/** An upload that is kept and queued. */
export interface Arrival {
  readonly job: JobRecord;
  /** It is the job of an earlier try, whose sender was never told. */
  readonly isRepeated: boolean;
  /** To be called once the sender was told; until then the same files sent again are offered the same job. */
  readonly answered: () => Promise<void>;
}

/**
 * Keeps the files of an upload and queues their intake, together or not at all. Sent again under its id, or after an
 * answer got lost, it is the job that is there.
 * @throws {YarvoError} `cancelled` where it was cancelled or its sender left while it came.
 */
export async function queueIntake(
  queue: JobQueue,
  files: readonly ArrivedFile[],
  {
    id,
    author,
    signal,
    shelves = false,
  }: { readonly id: string; readonly author: string; readonly signal?: AbortSignal; readonly shelves?: boolean },
): Promise<Arrival> {
  const there = await queue.find(id);
  if (there) return arrival(there, true);
  const given = distinctFiles(files);
  const subject = contentsOf(given);
  const unanswered = await findUnanswered(queue, subject);
  if (unanswered) return arrival(unanswered, true);
  const label = shortenMiddle(
    given.length === 1 ? given[0].path : `${given[0].path} and ${given.length - 1} more`,
    200,
  );
  const job = await inTransaction(async (transaction) => {
    if (!(await insertUpload(id, given, author, transaction))) return null;
    const payload: IntakePayload = { uploadId: id, contents: subject, shelves };
    const added = await queue.add({ id, kind: 'intake', subject: id, label, author, payload }, transaction);
    if (signal?.aborted || cancelledEarly.has(id)) throw cancelled(label);
    onTheirWay.add(id);
    return added;
  });
  if (job) return arrival(job, false);
  // The same upload was sent more than once at the same moment: this one is the other's.
  const others = await queue.find(id);
  if (!others) throw cancelled(label);
  return arrival(others, true);
}

const arrival = (job: JobRecord, isRepeated: boolean): Arrival => ({
  job,
  isRepeated,
  answered: async () => {
    await models().Job.update({ answeredAt: new Date() }, { where: { id: job.id, answeredAt: null } });
    onTheirWay.delete(job.id);
  },
});

/** Cancels an upload, also one that has not all come yet. @returns its job; null for one that nobody knows. */
export async function cancelIntake(queue: JobQueue, id: string): Promise<JobRecord | null> {
  cancelledEarly.add(id);
  setTimeout(() => cancelledEarly.delete(id), AGAIN_WITHIN_MS).unref();
  return queue.cancel(id);
}

/** Says whose sender is gone and was never told. */
export const neverAnswered = (id: string): void => void onTheirWay.delete(id);

/** Names and contents of an upload in one word. */
const contentsOf = (files: readonly ArrivedFile[]): string =>
  createHash('sha256')
    .update(JSON.stringify(files.map(({ path, hash }) => [path, hash]).sort(([a], [b]) => (a < b ? -1 : 1))))
    .digest('hex');

/** The job of the same files whose sender was never told of it, since Yarvo ended before it could answer. */
async function findUnanswered(queue: JobQueue, contents: string): Promise<JobRecord | null> {
  const rows = await models().Job.findAll({
    where: {
      kind: 'intake',
      answeredAt: null,
      state: { [Op.notIn]: ['cancelled', 'failed'] },
      createdAt: { [Op.gt]: new Date(Date.now() - AGAIN_WITHIN_MS) },
    },
    attributes: ['id'],
    order: [['createdAt', 'DESC']],
    limit: 100,
  });
  for (const { id } of rows.filter((row) => !onTheirWay.has(row.id))) {
    const job = await queue.find(id);
    if (job && (job.payload as IntakePayload).contents === contents) return job;
  }
  return null;
}

interface IntakePayload {
  readonly uploadId: string;
  readonly contents: string;
  /** Whether its clips go on the shelf; jobs of older versions do not say. */
  readonly shelves?: boolean;
}

const NOTHING: IntakeOutcome = { characters: [], refused: [] };

export const intakeHandler: JobHandler = {
  async work({ author, payload, kept, signal, report, keep }) {
    const { uploadId, shelves } = payload as IntakePayload;
    const made = await takeIn(uploadId, {
      author,
      made: (kept as IntakeOutcome | null) ?? NOTHING,
      signal,
      keep,
      report: (share, stage) => report({ share, stage }),
    });
    return shelves ? shelveUpload(made, author) : made;
  },
  async takeBack(kept, payload) {
    if (kept !== null) await takeBack(kept as IntakeOutcome);
    await dropUpload((payload as IntakePayload).uploadId);
  },
  async failed(problem, payload) {
    if (!isWorthRetry({ kind: 'intake', problem })) await dropUpload((payload as IntakePayload).uploadId);
  },
};

const cancelled = (place: string): YarvoError =>
  new YarvoError({
    code: 'cancelled',
    message: 'Cancelled; nothing was kept.',
    place,
    remedy: 'Drop the file again if it is wanted.',
  });
