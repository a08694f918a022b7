import { YarvoError } from '@/core/errors/yarvo-error';
import { initialFit } from '@/core/fit/fit';
import { findCharacter } from '../characters/character-repository';
import { inTransaction } from '../database/transaction';
import { newest } from '../library/library';
import { currentBasis, prepareReading } from '../matches/matched-reading';
import { countReading, yardsticksOf } from './assess-reading';
import { findCurrentFit, findFit, insertFit } from './fit-repository';

/**
 * Fits a character to another definition, beside the fits it has; its intake decisions are those of the studio's own.
 * @returns whether there is such a character.
 * @throws {YarvoError} `not-in-library`; `already-there` where it has such a fit.
 */
export async function startFit(characterId: string, definitionId: string, author: string): Promise<boolean> {
  const character = await findCharacter(characterId);
  const own = character && (await findCurrentFit(characterId));
  if (!character || !own) return false;
  const definition = await newest('definition', definitionId);
  const { intake } = own.state;
  const basis = await currentBasis();
  const subject = { intake, basis, definitionId, definitionVersion: definition.version };
  const { record, keep } = await prepareReading(character, subject);
  const state = initialFit(record.match, definition, intake, basis);
  const counts = await countReading(record, state, await yardsticksOf(state));
  await inTransaction(async (transaction) => {
    if (await findFit(characterId, definitionId, transaction)) throw alreadyThere(character.name, definition.label);
    await keep?.(characterId, transaction);
    const at = new Date();
    await insertFit(
      { characterId, definitionId, state, description: 'first pass', ...counts, author, at },
      transaction,
    );
  });
  return true;
}

const alreadyThere = (place: string, label: string): YarvoError =>
  new YarvoError({ code: 'already-there', message: `It has a fit to ${label}.`, place, remedy: 'Open that one.' });
