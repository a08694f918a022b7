import { isAway } from '../database/database-problem';

/** What a page needs, or null while the database is away; anything else that fails is the page's error. */
export async function whileDatabaseIsThere<Value>(
  read: () => Promise<Value>,
): Promise<{ readonly value: Value } | null> {
  try {
    return { value: await read() };
  } catch (error) {
    if (isAway(error)) return null;
    throw error;
  }
}
