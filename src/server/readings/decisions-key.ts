import { createHash } from 'node:crypto';
import { NO_DECISIONS, readingPart, type IntakeDecisions } from '@/core/intake/decisions';

/** Decisions that came later than the first keys: left out while they are not made, so that old keys still hold. */
const LATER: readonly (keyof IntakeDecisions)[] = ['tree', 'sideMarks', 'mending'];

/** Decisions that lead to the same rig have the same key. */
export function decisionsKey(decisions: IntakeDecisions): string {
  const part = readingPart(decisions);
  const isUnmade = (key: keyof typeof part) =>
    LATER.includes(key) && JSON.stringify(part[key]) === JSON.stringify(NO_DECISIONS[key]);
  const keys = (Object.keys(part) as (keyof typeof part)[]).filter((key) => !isUnmade(key));
  const ordered = keys.sort().map((key) => [key, part[key]]);
  return createHash('sha256').update(JSON.stringify(ordered)).digest('hex');
}

export const AS_FOUND_KEY = decisionsKey(NO_DECISIONS);
