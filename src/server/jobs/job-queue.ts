import type { Transaction } from 'sequelize';
import type { JobKind, JobState, JobView } from '@/contract/jobs';
import type { Problem } from '@/core/errors/yarvo-error';

export interface NewJob {
  readonly id: string;
  readonly kind: JobKind;
  readonly subject: string;
  readonly label: string;
  readonly author: string;
  /** What the work needs to know; plain data. */
  readonly payload: unknown;
  /** Higher goes first; 0 is usual. */
  readonly priority?: number;
}

export interface JobRecord extends JobView {
  readonly payload: unknown;
  readonly priority: number;
  readonly isCancelled: boolean;
}

/** A job as those who follow it are told: without what it made, which grows with it and is asked for. */
export type JobNews = Omit<JobView, 'result'> & { readonly result: null };

/** How a job ends. */
export type JobEnd =
  | { readonly state: 'done'; readonly result: unknown }
  | { readonly state: 'failed'; readonly problem: Problem }
  | { readonly state: 'cancelled' };

export interface Progress {
  /** 0 to 1. */
  readonly share: number;
  readonly stage: string;
}

export interface JobFilter {
  readonly states?: readonly JobState[];
  readonly subject?: string;
  readonly kind?: JobKind;
  /** Changed after. */
  readonly since?: Date;
}

/**
 * Where long work stands until it is done: what is added is kept, each job is worked on by one owner at a time, and what
 * an owner leaves behind comes back when its lease ends. Adapters keep what tests/integration/job-queue.test.ts says.
 */
export interface JobQueue {
  /** Adds a job; one of that id stays as it is. With a transaction it is there when that one is committed. */
  add(job: NewJob, transaction?: Transaction): Promise<JobRecord>;
  /**
   * Takes the next job for `leaseMs`; null where there is none. Jobs of one subject follow each other. A job that was taken
   * too often has failed instead.
   */
  claim(owner: string, leaseMs: number): Promise<JobRecord | null>;
  /** Says that the owner is at it. `lost`: somebody else has it by now, or it is over. */
  renew(id: string, owner: string, leaseMs: number, progress: Progress): Promise<'held' | 'cancelled' | 'lost'>;
  /** Keeps what was made so far, together with it. @throws {JobLost} where the owner no longer has the job. */
  keep(id: string, owner: string, result: unknown, transaction: Transaction): Promise<void>;
  /** Ends a job that the owner has. @returns false where it no longer has it. */
  finish(id: string, owner: string, end: JobEnd, transaction?: Transaction): Promise<boolean>;
  /** Whether another job waits that goes before one of this priority, or beside it. */
  isAnybodyWaiting(priority: number): Promise<boolean>;
  /** Gives a job back to the queue, behind those that wait. @returns false where the owner no longer has it. */
  letOthersGo(id: string, owner: string): Promise<boolean>;
  /** Asks a job to end: at once where nobody is at it. @returns the job as it is now; null for an unknown one. */
  cancel(id: string): Promise<JobRecord | null>;
  /** Queues a failed or cancelled job again. @returns the job; null for an unknown one, or one that did not fail. */
  retry(id: string): Promise<JobRecord | null>;
  /** Gives back what other owners have: when nobody else can be at work. @returns how many. */
  release(owner: string): Promise<number>;
  find(id: string): Promise<JobRecord | null>;
  /** Newest first, at most 500. */
  list(filter: JobFilter): Promise<JobNews[]>;
  /** Removes what was over before. @returns how many. */
  forget(before: Date): Promise<number>;
}

/** A long job goes on later: others wait. */
export class LetOthersGo extends Error {}

/** The owner of a job no longer has it: what it was about to keep is not kept. */
export class JobLost extends Error {
  constructor(id: string) {
    super(`job ${id} belongs to somebody else by now`);
  }
}
