import { renewFit } from '@/core/fit/renew-fit';
import { currentBasis, matchedReading } from '../matches/matched-reading';
import type { CharacterRecord } from '../characters/character-repository';
import { changeBy } from './change-fit';
import type { CurrentFit } from './fit-repository';

/**
 * Carries a fit over to what reads and matches today, as a step of its history.
 * @returns false where it changed meanwhile, or is closed or archived.
 */
export async function renewInPlace(
  character: CharacterRecord,
  fit: CurrentFit,
  author: string,
  { keepsState }: { readonly keepsState: boolean },
): Promise<boolean> {
  const basis = await currentBasis();
  const from = await matchedReading(character, fit.state);
  const to = await matchedReading(character, { ...fit.state, basis });
  const request = { baseRevision: fit.revision, author, definitionId: fit.definitionId };
  const result = await changeBy(
    character.id,
    request,
    ({ yardsticks }) => {
      const { state, changes } = renewFit(fit.state, from, to, yardsticks.definition, basis);
      const what = changes.length === 0 ? 'nothing changed' : `${changes.length} roles changed`;
      return {
        action: { kind: 'renew', basis },
        description: `read by reader ${basis.reader}, matched by matcher ${basis.matcher}: ${what}`,
        state,
        record: to,
      };
    },
    { keepsState },
  );
  return result.ok;
}
