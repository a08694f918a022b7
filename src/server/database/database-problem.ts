import type { Problem } from '@/core/errors/yarvo-error';
import { databaseStatus } from './database-status';
import { driverErrorOf } from './driver-error';
import { STATEMENT_TIMED_OUT } from './patient-driver';

const AWAY_CODES = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'PROTOCOL_CONNECTION_LOST',
  'ER_SERVER_SHUTDOWN',
  'ER_QUERY_INTERRUPTED',
  STATEMENT_TIMED_OUT,
]);
const AWAY_NAMES = new Set([
  'SequelizeConnectionRefusedError',
  'SequelizeConnectionError',
  'SequelizeHostNotReachableError',
  'SequelizeConnectionTimedOutError',
]);
/** ER_DISK_FULL, ER_RECORD_FILE_FULL. */
const FULL_ERRNOS = new Set([1021, 1114]);
const FULL_WORDS = /no space left|errno:? 28\b|error 28\b|disk full|table .* is full/i;

/** Whether the database does not answer: it ended, restarts, or cannot be reached. */
export function isAway(error: unknown): boolean {
  const { code = '' } = driverErrorOf(error) ?? {};
  return AWAY_CODES.has(code) || AWAY_NAMES.has((error as Error | null)?.name ?? '');
}

/** Whether a statement was given up: the database is there and stands still. */
export const isStandstill = (error: unknown): boolean => driverErrorOf(error)?.code === STATEMENT_TIMED_OUT;

function isDiskFull(error: unknown): boolean {
  const driver = driverErrorOf(error);
  if (!driver) return (error as { code?: string } | null)?.code === 'ENOSPC';
  return driver.code === 'ENOSPC' || FULL_ERRNOS.has(driver.errno ?? 0) || FULL_WORDS.test(driver.sqlMessage ?? '');
}

/** What a person is told when the database fails in a way that is known; null for anything else. */
export function databaseProblem(error: unknown): Problem | null {
  if (isDiskFull(error)) {
    return {
      code: 'disk-full',
      message: 'The disk with the database is full; nothing was changed.',
      place: 'database',
      remedy: 'Make room on it, then try again.',
    };
  }
  if (isAway(error)) {
    return {
      code: 'database-away',
      message: databaseStatus()?.isDiskFull
        ? 'The database is away, since its disk is full.'
        : 'The database does not answer at the moment.',
      place: 'database',
      remedy: databaseStatus()?.isDiskFull
        ? 'Make room on the disk: Yarvo starts the database again by itself, and what you changed is sent again.'
        : 'Wait a few seconds: Yarvo starts it again by itself, and what you changed is sent again.',
    };
  }
  if ((error as Error | null)?.name === 'SequelizeConnectionAcquireTimeoutError') {
    if (databaseStatus())
      return {
        code: 'database-away',
        message: 'The database stands still.',
        place: 'database',
        remedy: 'Wait until it goes on: what you changed is sent again.',
      };
    return {
      code: 'database-busy',
      message: 'Too many requests wait for the database.',
      place: 'database',
      remedy: 'Try again in a minute.',
    };
  }
  return null;
}
