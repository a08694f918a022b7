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
