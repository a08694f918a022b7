import { YarvoError, type Problem } from '@/core/errors/yarvo-error';
import { databaseProblem } from '../database/database-problem';
import { log } from './logger';

const UNEXPECTED = {
  code: 'unexpected',
  message: 'Something went wrong inside Yarvo.',
  remedy: 'Try again. If it returns, look the id up in the log.',
};

/**
 * What a person is told of a failure. Expected ones speak for themselves; of anything else only the log gets the words,
 * since they name paths and statements that are nobody's business.
 */
export function problemFor(error: unknown, place: string, requestId?: string): Problem {
  const known = error instanceof YarvoError ? error.problem : databaseProblem(error);
  if (known) log().info({ requestId, problem: known, err: error instanceof YarvoError ? undefined : error }, 'refused');
  else log().error({ requestId, place, err: error }, 'unexpected');
  return { ...(known ?? { ...UNEXPECTED, place }), ...(requestId && { requestId }) };
}
