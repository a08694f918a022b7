import type { DrillResult } from '@/core/plan/drill-result';
import { processWide } from '../settings/process-wide';
import type { CurrentFit } from './fit-repository';

type DrillSource = (fits: readonly CurrentFit[]) => Promise<ReadonlyMap<string, readonly DrillResult[]>>;

const holder = processWide('drill results', (): { source: DrillSource | null } => ({ source: null }));

/** The board keeps what the drill found and stands above the fits: it says here how to ask for it. */
export function setDrillSource(source: DrillSource): void {
  holder.source = source;
}

/** What the drill found on a character as it stands; nothing while nobody knows. */
export const drillResultsOf = async (fit: CurrentFit): Promise<readonly DrillResult[]> =>
  (await drillResultsOfMany([fit])).get(fit.characterId) ?? [];

/** The same for many characters, by their id. */
export const drillResultsOfMany = async (
  fits: readonly CurrentFit[],
): Promise<ReadonlyMap<string, readonly DrillResult[]>> => (holder.source ? holder.source(fits) : new Map());
