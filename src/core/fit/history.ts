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

/**
 * Where undo and redo lead after an append-only list of rows. Rows are never removed: an undo is a row too, whose state
 * is that of an earlier revision; an act after an undo forgets what could have been redone.
 */
export function historyPosition(rows: readonly ChangeRow[]): HistoryPosition {
  const past: number[] = [];
  const future: number[] = [];
  let present: number | null = null;
  for (const { revision, kind } of rows) {
    if (kind === 'start' || kind === 'act') {
      if (present !== null) past.push(present);
      present = revision;
      future.length = 0;
    } else if (kind === 'undo' && past.length > 0) {
      future.push(present as number);
      present = past.pop() as number;
    } else if (kind === 'redo' && future.length > 0) {
      past.push(present as number);
      present = future.pop() as number;
    }
  }
  return { undoTo: past[past.length - 1] ?? null, redoTo: future[future.length - 1] ?? null };
}
