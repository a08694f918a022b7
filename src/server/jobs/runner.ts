import { randomUUID } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import type { Transaction } from 'sequelize';
import type { JobKind } from '@/contract/jobs';
import type { Problem } from '@/core/errors/yarvo-error';
import { isAway } from '../database/database-problem';
import { log } from '../log/logger';
import { problemFor } from '../log/problem-for';
import { onJob } from './job-events';
import { JobLost, LetOthersGo, type JobQueue, type JobRecord, type Progress } from './job-queue';

/** A job in work, as its handler sees it. */
interface RunningJob {
  readonly id: string;
  readonly author: string;
  readonly label: string;
  readonly payload: unknown;
  readonly createdAt: Date;
  /** What an earlier attempt kept; null where none did. */
  readonly kept: unknown;
  /** Ends the work: the job was cancelled, or somebody else has it. */
  readonly signal: AbortSignal;
  /** Says how far it is. */
  readonly report: (progress: Progress) => void;
  /**
   * Ends the work for now where others wait, and it has lasted some seconds; it goes on later with what it finds done.
   * @throws {LetOthersGo} which is not to be caught.
   */
  readonly letOthersGo: () => Promise<void>;
  /** Keeps what was made so far, within the transaction that makes it. @throws {JobLost} */
  readonly keep: (result: unknown, transaction: Transaction) => Promise<void>;
}

export interface JobHandler {
  /** Does the work. @returns its result. @throws {YarvoError} what a person is told. */
  readonly work: (job: RunningJob) => Promise<unknown>;
  /** Takes back what was kept, where the job was cancelled. */
  readonly takeBack?: (kept: unknown, payload: unknown) => Promise<void>;
  /** Called before a job is said to have failed; the work may come once more, if Yarvo ends in between. */
  readonly failed?: (problem: Problem, payload: unknown) => Promise<void>;
}

export type JobHandlers = Readonly<Record<JobKind, JobHandler>>;

/** A job whose owner fell silent, since the database was away, goes on after this. */
const LEASE_MS = 10_000;
const RENEW_MS = 1_000;
/** Where nobody says that there is work, it is looked for this often. */
const LOOK_MS = 2_000;
/** A long job works this long before it looks whether others wait. */
const TURN_MS = 4_000;

/** Works on jobs, some at a time, until it is stopped. */
export class JobRunner {
  readonly owner = `${process.pid} ${randomUUID()}`;
  private readonly stopping = new AbortController();
  private readonly running = new Map<string, AbortController>();
  private loops: Promise<void>[] = [];
  private wake: () => void = () => undefined;
  private claiming: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly queue: JobQueue,
    private readonly handlers: JobHandlers,
    private readonly atOnce: number,
  ) {}

  start(): void {
    const stopListening = onJob(({ id, state }) => {
      if (state === 'queued') this.wake();
      // A cancel must not wait for the next renewal.
      if (state === 'running' && this.running.has(id)) void this.endWhereCancelled(id);
    });
    this.stopping.signal.addEventListener('abort', stopListening, { once: true });
    this.loops = Array.from({ length: this.atOnce }, () => this.loop());
  }

  /** Ends what is in work, which stays queued, and waits for it. */
  async stop(): Promise<void> {
    this.stopping.abort();
    this.wake();
    for (const abort of this.running.values()) abort.abort();
    await Promise.all(this.loops);
  }

  /** Works on what is queued until nothing is, in this call. */
  async drain(): Promise<void> {
    for (let job = await this.claim(); job; job = await this.claim()) await this.workOn(job);
  }

  /** One after another, so that two loops do not take two jobs of one subject at the same moment. */
  private claim(): Promise<JobRecord | null> {
    const next = this.claiming.then(() => this.queue.claim(this.owner, LEASE_MS));
    this.claiming = next.catch(() => undefined);
    return next;
  }

  private async loop(): Promise<void> {
    while (!this.stopping.signal.aborted) {
      try {
        const job = await this.claim();
        if (job) await this.workOn(job);
        else await this.untilThereIsWork();
      } catch (error) {
        // The database is away: it is waited for like everywhere else.
        if (!isAway(error)) log().error({ err: error }, 'the job runner stumbled');
        await wait(LOOK_MS, undefined, { signal: this.stopping.signal }).catch(() => undefined);
      }
    }
  }

  private untilThereIsWork(): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, LOOK_MS);
      const wakeOthers = this.wake;
      this.wake = () => {
        clearTimeout(timer);
        wakeOthers();
        resolve();
      };
    });
  }

  private async endWhereCancelled(id: string): Promise<void> {
    const job = await this.queue.find(id).catch(() => null);
    if (job?.isCancelled) this.running.get(id)?.abort();
  }

  private async workOn(job: JobRecord): Promise<void> {
    const abort = new AbortController();
    this.running.set(job.id, abort);
    // It was claimed just before everything was to end.
    if (this.stopping.signal.aborted) abort.abort();
    let progress: Progress = { share: 0, stage: '' };
    const renewal = setInterval(() => {
      this.queue.renew(job.id, this.owner, LEASE_MS, progress).then(
        (answer) => answer !== 'held' && abort.abort(),
        () => undefined,
      );
    }, RENEW_MS);
    let kept = job.result;
    const started = performance.now();
    try {
      // Its owner ended before it could end the job.
      if (job.isCancelled) throw new JobLost(job.id);
      const result = await this.handlers[job.kind].work({
        id: job.id,
        author: job.author,
        label: job.label,
        payload: job.payload,
        createdAt: new Date(job.createdAt),
        kept,
        signal: abort.signal,
        report: (next) => void (progress = next),
        letOthersGo: async () => {
          if (performance.now() - started < TURN_MS) return;
          if (await this.queue.isAnybodyWaiting(job.priority)) throw new LetOthersGo();
        },
        keep: async (value, transaction) => {
          await this.queue.keep(job.id, this.owner, value, transaction);
          kept = value;
        },
      });
      await this.queue.finish(job.id, this.owner, { state: 'done', result });
    } catch (error) {
      if (error instanceof LetOthersGo) {
        // How far it is must not be said once more after it was given back.
        clearInterval(renewal);
        await this.queue.renew(job.id, this.owner, LEASE_MS, progress);
        await this.queue.letOthersGo(job.id, this.owner);
      } else await this.endBadly(job, kept, error);
    } finally {
      clearInterval(renewal);
      this.running.delete(job.id);
    }
  }

  private async endBadly(job: JobRecord, kept: unknown, error: unknown): Promise<void> {
    const now = await this.queue.find(job.id);
    if (now?.isCancelled) {
      await this.handlers[job.kind].takeBack?.(kept, job.payload);
      await this.queue.finish(job.id, this.owner, { state: 'cancelled' });
      return;
    }
    // Somebody else goes on with it, or the next start does.
    if (error instanceof JobLost || this.stopping.signal.aborted || isAway(error)) return;
    const problem = problemFor(error, job.label);
    // Whoever is told that it failed finds nothing left of it.
    await this.handlers[job.kind].failed?.(problem, job.payload);
    await this.queue.finish(job.id, this.owner, { state: 'failed', problem });
  }
}
