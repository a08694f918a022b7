import type { Provenance } from '@/core/rig/source-facts';
import { changeMany, type ManyOutcome } from './change-many';

/** Sets the given fields for each character. */
export const setProvenance = (
  characterIds: readonly string[],
  fields: Partial<Provenance>,
  author: string,
): Promise<ManyOutcome> =>
  changeMany(characterIds, author, ({ intake }) => {
    const provenance = { ...intake.provenance, ...fields };
    return JSON.stringify(provenance) === JSON.stringify(intake.provenance) ? null : { provenance };
  });
