import { literal, Op, QueryTypes, type Transaction } from 'sequelize';
import type { JobKind, JobState } from '@/contract/jobs';
import type { Problem } from '@/core/errors/yarvo-error';
import { database } from '../database/connection';
import { models, type JobRow } from '../database/models';
import { tellJob } from './job-events';
import {
  JobLost,
  type JobEnd,
  type JobFilter,
  type JobNews,
  type JobQueue,
  type JobRecord,
  type NewJob,
} from './job-queue';

/**
 * A job whose owner ended this often in the middle of it, without keeping anything, is not tried again: it may be what
 * ends it.
 */
const MOST_ATTEMPTS = 20;
const MOST_LISTED = 500;

const GAVE_UP: Problem = {
  code: 'gave-up',
  message: `Yarvo was ended ${MOST_ATTEMPTS} times in the middle of this.`,
  place: 'job',
  remedy: 'Look at the log; retry it when the cause is mended.',
};

const asRecord = (row: JobRow): JobRecord => ({
  id: row.id,
  kind: row.kind as JobKind,
  subject: row.subject,
  label: row.label,
  state: row.state as JobState,
  progress: row.progress,
  stage: row.stage,
  attempts: row.attempts,
  author: row.author,
  createdAt: row.createdAt.toISOString(),
  updatedAt: row.updatedAt.toISOString(),
  priority: row.priority,
  payload: JSON.parse(row.payload) as unknown,
  result: row.result === null ? null : (JSON.parse(row.result) as unknown),
  problem: row.problem === null ? null : (JSON.parse(row.problem) as Problem),
  isCancelled: Boolean(row.isCancelled),
});

/** What of a row those who follow a job are told. */
const NEWS = [
  'id',
  'kind',
  'subject',
  'label',
  'state',
  'progress',
  'stage',
  'attempts',
  'author',
  'createdAt',
  'updatedAt',
  'problem',
] as const;

const asNews = (row: Pick<JobRow, (typeof NEWS)[number]>): JobNews => ({
  id: row.id,
  kind: row.kind as JobKind,
  subject: row.subject,
  label: row.label,
  state: row.state as JobState,
  progress: row.progress,
  stage: row.stage,
  attempts: row.attempts,
  author: row.author,
  createdAt: row.createdAt.toISOString(),
  updatedAt: row.updatedAt.toISOString(),
  problem: row.problem === null ? null : (JSON.parse(row.problem) as Problem),
  result: null,
});

/** Changes a job that is in one of these states, and tells who listens. @returns whether it was. */
async function change(
  id: string,
  where: Partial<Record<keyof JobRow, unknown>>,
  values: Partial<JobRow>,
  transaction?: Transaction,
): Promise<boolean> {
  const changed = { ...values, updatedAt: new Date() };
  const [count] = await models().Job.update(changed, { where: { id, ...where } as never, transaction });
  if (count === 0) return false;
  // Whoever listens is told in a moment; whoever changes it does not wait for that.
  const tell = () =>
    void models()
      .Job.findByPk(id, { attributes: [...NEWS] })
      .then(
        (row) => row && tellJob(asNews(row)),
        () => undefined,
      );
  if (transaction) transaction.afterCommit(tell);
  else tell();
  return true;
}

async function find(id: string): Promise<JobRecord | null> {
  const row = await models().Job.findByPk(id);
  return row && asRecord(row);
}

async function add(job: NewJob, transaction?: Transaction): Promise<JobRecord> {
  const { id, kind, subject, label, author, payload, priority = 0 } = job;
  const now = new Date();
  const [row, isNew] = await models().Job.findOrCreate({
    where: { id },
    defaults: {
      id,
      kind,
      subject,
      label: label.slice(0, 300),
      state: 'queued',
      progress: 0,
      stage: '',
      attempts: 0,
      priority,
      turn: 0,
      author,
      payload: JSON.stringify(payload),
      result: null,
      problem: null,
      leaseOwner: null,
      leaseUntil: null,
      isCancelled: false,
      createdAt: now,
      updatedAt: now,
      answeredAt: null,
    },
    transaction,
  });
  const record = asRecord(row);
  if (isNew && transaction) transaction.afterCommit(() => tellJob(asNews(row)));
  else if (isNew) tellJob(asNews(row));
  return record;
}

/** Candidates that are looked at together: others may take the first ones at the same moment. */
const CANDIDATES = 8;

async function claim(owner: string, leaseMs: number): Promise<JobRecord | null> {
  for (;;) {
    const candidates = await database().query<Pick<JobRow, 'id' | 'attempts' | 'state'>>(
      `SELECT id, attempts, state FROM jobs
       WHERE (state = 'queued' OR (state = 'running' AND lease_until < :now))
         AND subject NOT IN (SELECT subject FROM jobs WHERE state = 'running' AND lease_until >= :now)
       ORDER BY priority DESC, GREATEST(turn, sequence), updated_at LIMIT ${CANDIDATES}`,
      { replacements: { now: new Date() }, type: QueryTypes.SELECT },
    );
    if (candidates.length === 0) return null;
    for (const { id, attempts, state } of candidates) {
      // Whoever changes the row first has it: the count of attempts says whether it is as it was.
      const asSeen = { state, attempts, ...(state === 'running' && { leaseUntil: { [Op.lt]: new Date() } }) };
      if (attempts >= MOST_ATTEMPTS) {
        const end = { state: 'failed', problem: JSON.stringify(GAVE_UP), leaseOwner: null, leaseUntil: null };
        await change(id, asSeen, end);
        continue;
      }
      const leaseUntil = new Date(Date.now() + leaseMs);
      const taken = { state: 'running', attempts: attempts + 1, leaseOwner: owner, leaseUntil };
      if (await change(id, asSeen, taken)) return find(id);
    }
  }
}

/** The one adapter for now: the queue is a table, the work is done by whoever claims from it. */
export const databaseQueue: JobQueue = {
  add,
  claim,
  find,

  async renew(id, owner, leaseMs, { share, stage }) {
    const values = {
      progress: Math.max(0, Math.min(1, share)),
      stage: stage.slice(0, 200),
      leaseUntil: new Date(Date.now() + leaseMs),
    };
    if (!(await change(id, { leaseOwner: owner, state: 'running' }, values))) return 'lost';
    const row = await models().Job.findByPk(id, { attributes: ['isCancelled'] });
    return row?.isCancelled ? 'cancelled' : 'held';
  },

  async keep(id, owner, result, transaction) {
    const isHeld = await change(
      id,
      { leaseOwner: owner, state: 'running', isCancelled: false },
      { result: JSON.stringify(result), attempts: 1 },
      transaction,
    );
    if (!isHeld) throw new JobLost(id);
  },

  finish(id, owner, end: JobEnd, transaction) {
    const free = { state: end.state, leaseOwner: null, leaseUntil: null };
    const values: Partial<JobRow> =
      end.state === 'done'
        ? { ...free, result: JSON.stringify(end.result ?? null), progress: 1, stage: '', problem: null }
        : {
            ...free,
            stage: '',
            ...(end.state === 'failed' ? { problem: JSON.stringify(end.problem) } : { result: null }),
          };
    return change(id, { leaseOwner: owner, state: 'running' }, values, transaction);
  },

  async isAnybodyWaiting(priority) {
    const [row] = await database().query<{ waiting: number }>(
      `SELECT EXISTS (SELECT 1 FROM jobs
         WHERE state = 'queued' AND priority >= :priority
           AND subject NOT IN (SELECT subject FROM jobs WHERE state = 'running')) AS waiting`,
      { replacements: { priority }, type: QueryTypes.SELECT },
    );
    return Boolean(row.waiting);
  },

  letOthersGo(id, owner) {
    const again = { state: 'queued', leaseOwner: null, leaseUntil: null };
    // It was not ended in the middle of anything: that attempt does not count.
    // Behind everybody who waits by now, and before whoever comes later: an endless row of short jobs must not starve it.
    const last = literal('(SELECT last FROM (SELECT MAX(sequence) AS last FROM jobs) AS latest)');
    const counted = { turn: last, attempts: literal('attempts - 1') } as unknown as Partial<JobRow>;
    return change(id, { leaseOwner: owner, state: 'running' }, { ...again, ...counted });
  },

  async cancel(id) {
    await change(id, { state: 'queued' }, { state: 'cancelled', isCancelled: true, result: null });
    await change(id, { state: 'running' }, { isCancelled: true });
    return find(id);
  },

  async retry(id) {
    const again = { state: 'queued', attempts: 0, isCancelled: false, problem: null, progress: 0, stage: '' };
    const isQueued = await change(id, { state: ['failed', 'cancelled'] }, again);
    return isQueued ? find(id) : null;
  },

  async release(owner) {
    const rows = await models().Job.findAll({
      where: { state: 'running', leaseOwner: { [Op.ne]: owner } },
      attributes: ['id'],
    });
    for (const { id } of rows)
      await change(id, { state: 'running' }, { state: 'queued', leaseOwner: null, leaseUntil: null });
    return rows.length;
  },

  async list({ states, subject, kind, since }: JobFilter) {
    const rows = await models().Job.findAll({
      where: {
        ...(states && { state: [...states] }),
        ...(subject && { subject }),
        ...(kind && { kind }),
        ...(since && { updatedAt: { [Op.gt]: since } }),
      },
      attributes: [...NEWS],
      order: [['createdAt', 'DESC']],
      limit: MOST_LISTED,
    });
    return rows.map(asNews);
  },

  forget(before) {
    return models().Job.destroy({
      where: { state: ['done', 'failed', 'cancelled'], updatedAt: { [Op.lt]: before } },
    });
  },
};
