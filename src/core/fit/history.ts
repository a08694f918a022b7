/** What a row of the history is: a step forward, or a step back or forth over earlier ones. */
export type ChangeKind = 'start' | 'act' | 'undo' | 'redo';

export interface ChangeRow {
  readonly revision: number;
  readonly kind: ChangeKind;
}

export interface HistoryPosition {
  /** Revision whose state an undo would bring back, or null at the start. */
  readonly undoTo: number | null;
  /** Revision whose state a redo would bring back, or null. */
  readonly redoTo: number | null;
}

/** Where undo and redo lead after an append-only list of rows. */
export function historyPosition(rows: readonly ChangeRow[]): HistoryPosition {
  const { inForce, future } = walk(rows);
  return { undoTo: inForce[inForce.length - 2] ?? null, redoTo: future[future.length - 1] ?? null };
}

/** Steps that are in force, oldest first, each by the revision that made it; the first is the start. */
export const stepsInForce = (rows: readonly ChangeRow[]): readonly number[] => walk(rows).inForce;

/**
 * Rows are never removed: an undo is a row too, whose state is that of an earlier revision; an act after an undo
 * forgets what could have been redone.
 */
function walk(rows: readonly ChangeRow[]): { inForce: number[]; future: number[] } {
  const inForce: number[] = [];
  const future: number[] = [];
  for (const { revision, kind } of rows) {
    if (kind === 'start' || kind === 'act') {
      inForce.push(revision);
      future.length = 0;
    } else if (kind === 'undo' && inForce.length > 1) future.push(inForce.pop() as number);
    else if (kind === 'redo' && future.length > 0) inForce.push(future.pop() as number);
  }
  return { inForce, future };
}
