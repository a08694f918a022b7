import type { DrillResult } from '@/core/plan/drill-result';
import { processWide } from '../settings/process-wide';
import type { CurrentFit } from './fit-repository';

type DrillSource = (fit: CurrentFit) => Promise<readonly DrillResult[]>;

const holder = processWide('drill results', (): { source: DrillSource | null } => ({ source: null }));

/** The board keeps what the drill found and stands above the fits: it says here how to ask for it. */
export function setDrillSource(source: DrillSource): void {
  holder.source = source;
}

/** What the drill found on a character as it stands; nothing while nobody knows. */
export const drillResultsOf = async (fit: CurrentFit): Promise<readonly DrillResult[]> =>
  holder.source ? holder.source(fit) : [];
