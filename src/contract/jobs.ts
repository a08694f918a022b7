import { z } from 'zod';
import { ProblemSchema } from '@/core/errors/yarvo-error';

export const JOB_KINDS = ['intake', 'pack', 'rematch', 'carry', 'motion-out'] as const;
export type JobKind = (typeof JOB_KINDS)[number];

export const JOB_STATES = ['queued', 'running', 'done', 'failed', 'cancelled'] as const;
export type JobState = (typeof JOB_STATES)[number];

/** Long work as screens and callers see it. */
export const JobViewSchema = z.strictObject({
  id: z.uuid(),
  kind: z.enum(JOB_KINDS),
  /** What it works on: an upload, a character, or a character and a definition. */
  subject: z.string(),
  /** What a person calls it: a file's or a character's name. */
  label: z.string(),
  state: z.enum(JOB_STATES),
  /** 0 to 1. */
  progress: z.number().min(0).max(1),
  /** What it is at, in words; empty where there is nothing to say. */
  stage: z.string(),
  attempts: z.int().nonnegative(),
  author: z.string(),
  createdAt: z.iso.datetime(),
  updatedAt: z.iso.datetime(),
  /** What it made so far; null where nothing is kept yet, and in lists and events, which do not carry it. */
  result: z.unknown(),
  /** Why it failed; null otherwise. */
  problem: ProblemSchema.nullable(),
});
export type JobView = z.infer<typeof JobViewSchema>;

/** Causes that may be gone the next time; what a file is refused for is not. */
const PASSING = new Set([
  'gave-up',
  'worker-failed',
  'too-slow',
  'too-much-memory',
  'queue-full',
  'disk-full',
  'unexpected',
]);

/** Whether a failed job may succeed when it is tried again; the files of a refused upload are not kept for it. */
export const isWorthRetry = ({ kind, problem }: Pick<JobView, 'kind' | 'problem'>): boolean =>
  kind !== 'intake' || problem === null || PASSING.has(problem.code) || problem.code.startsWith('database');

export const isOver = ({ state }: Pick<JobView, 'state'>): boolean => state !== 'queued' && state !== 'running';
