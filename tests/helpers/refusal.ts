import { YarvoError, type Problem } from '@/core/errors/yarvo-error';

/** The problem that some work is refused with; fails where it is not refused, or with anything but one of our errors. */
export function refusalOf(work: () => unknown): Problem {
  try {
    work();
  } catch (error) {
    if (error instanceof YarvoError) return error.problem;
    throw error;
  }
  throw new Error('it was not refused');
}
