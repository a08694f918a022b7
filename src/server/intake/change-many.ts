import type { FitState } from '@/core/fit/fit';
import type { IntakeDecisions } from '@/core/intake/decisions';
import { changeIntake } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';

/** What became of a change of many characters. */
export interface ManyOutcome {
  readonly changed: number;
  readonly refused: readonly { readonly id: string; readonly message: string }[];
}

/** What one character's decisions become; null where they are so already, a sentence where they cannot. */
type Wanted = Partial<IntakeDecisions> | string | null;

export const NO_CHARACTER = 'There is no such character.';

/** Changes decisions of many characters; each change is one step of that character's own history. */
export async function changeMany(
  characterIds: readonly string[],
  author: string,
  wantedOf: (state: FitState, characterId: string) => Wanted | Promise<Wanted>,
): Promise<ManyOutcome> {
  let changed = 0;
  const refused: { id: string; message: string }[] = [];
  for (const id of characterIds) {
    const fit = await findCurrentFit(id);
    if (!fit) {
      refused.push({ id, message: NO_CHARACTER });
      continue;
    }
    const wanted = await wantedOf(fit.state, id);
    if (wanted === null) continue;
    if (typeof wanted === 'string') {
      refused.push({ id, message: wanted });
      continue;
    }
    const result = await changeIntake(id, wanted, { baseRevision: fit.revision, author });
    if (result.ok) changed++;
    else refused.push({ id, message: result.message });
  }
  return { changed, refused };
}
