import { readFile, writeFile } from 'node:fs/promises';
import { z } from 'zod';

/** What whoever looks after the database last knew of it. */
export const DatabaseStatusSchema = z.strictObject({
  /** When it was found to be gone. */
  since: z.iso.datetime(),
  /** What happens to it now, in words. */
  doing: z.string(),
  /** Last lines of its own log. */
  lastWords: z.array(z.string()),
});
export type DatabaseStatus = z.infer<typeof DatabaseStatusSchema>;

const NOTHING_KNOWN = { since: null, doing: 'Yarvo waits for it.', lastWords: [] as readonly string[] };

/** From the file that `YARVO_STATUS_FILE` names, written by the process that keeps the database. */
export async function readDatabaseStatus(): Promise<DatabaseStatus | typeof NOTHING_KNOWN> {
  const file = process.env.YARVO_STATUS_FILE;
  if (!file) return NOTHING_KNOWN;
  try {
    return DatabaseStatusSchema.parse(JSON.parse(await readFile(file, 'utf8')));
  } catch {
    return NOTHING_KNOWN;
  }
}

/** Best effort: the disk may be full, and that is no reason to stop looking after the database. */
export const writeDatabaseStatus = (file: string, status: DatabaseStatus): Promise<void> =>
  writeFile(file, JSON.stringify(status)).catch(() => undefined);
