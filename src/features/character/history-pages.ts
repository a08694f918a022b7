import type { HistoryEntry } from '@/contract/character-view';

/**
 * The newest steps followed by those that were fetched before, newest first, each once. While the fit goes on the newest
 * page moves; what drops off its end is still among the steps held.
 */
export function joinHistory(newest: readonly HistoryEntry[], held: readonly HistoryEntry[]): HistoryEntry[] {
  const last = newest[newest.length - 1];
  return last ? [...newest, ...held.filter(({ revision }) => revision < last.revision)] : [...held];
}
