import { database } from '@/server/database/connection';

/** Statements that this process sends to the database while something is done. */
export async function statementsOf(work: () => Promise<unknown>): Promise<number> {
  const { options } = database() as unknown as { options: { logging: unknown } };
  const before = options.logging;
  let count = 0;
  options.logging = () => void count++;
  try {
    await work();
  } finally {
    options.logging = before;
  }
  return count;
}

/**
 * The same for work that can be done again: the least of three times, since what is told of jobs in the background sends a
 * statement now and then.
 */
export async function leastStatementsOf(work: () => Promise<unknown>): Promise<number> {
  let least = Infinity;
  for (let time = 0; time < 3; time++) least = Math.min(least, await statementsOf(work));
  return least;
}
