/** What whoever looks after the database knows of it while it is away. */
export interface DatabaseStatus {
  /** When it was found to be gone, ISO 8601. */
  readonly since: string;
  /** What happens to it now, in words. */
  readonly doing: string;
  readonly isDiskFull: boolean;
  /** Last lines of its own log. */
  readonly lastWords: readonly string[];
}

const HOLDER = globalThis as { yarvoDatabaseStatus?: DatabaseStatus | null };

/**
 * Told by the supervisor over its channel to this process, which needs no disk: that may be what is full.
 * @param status null while the database is there.
 */
export function setDatabaseStatus(status: DatabaseStatus | null): void {
  HOLDER.yarvoDatabaseStatus = status;
}

/** Null where nothing is known: the database is there, or somebody else's. */
export const databaseStatus = (): DatabaseStatus | null => HOLDER.yarvoDatabaseStatus ?? null;
