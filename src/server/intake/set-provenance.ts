import type { Provenance } from '@/core/rig/source-facts';
import { changeIntake } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';

export interface ProvenanceOutcome {
  readonly changed: number;
  readonly refused: readonly { readonly id: string; readonly message: string }[];
}

/** Sets the given fields for each character; each change is one step of that character's own history. */
export async function setProvenance(
  characterIds: readonly string[],
  fields: Partial<Provenance>,
  author: string,
): Promise<ProvenanceOutcome> {
  let changed = 0;
  const refused: { id: string; message: string }[] = [];
  for (const id of characterIds) {
    const fit = await findCurrentFit(id);
    if (!fit) {
      refused.push({ id, message: 'There is no such character.' });
      continue;
    }
    const { intake } = fit.state;
    const provenance = { ...intake.provenance, ...fields };
    if (JSON.stringify(provenance) === JSON.stringify(intake.provenance)) continue;
    const result = await changeIntake(id, { provenance }, { baseRevision: fit.revision, author });
    if (result.ok) changed++;
    else refused.push({ id, message: result.message });
  }
  return { changed, refused };
}
