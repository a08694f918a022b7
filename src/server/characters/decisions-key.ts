import { createHash } from 'node:crypto';
import { NO_DECISIONS, readingPart, type IntakeDecisions } from '@/core/intake/decisions';

/** Decisions that lead to the same rig have the same key. */
export function decisionsKey(decisions: IntakeDecisions): string {
  const part = readingPart(decisions);
  const ordered = Object.keys(part).sort().map((key) => [key, part[key as keyof typeof part]]);
  return createHash('sha256').update(JSON.stringify(ordered)).digest('hex');
}

export const AS_FOUND_KEY = decisionsKey(NO_DECISIONS);
