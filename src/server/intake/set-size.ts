import { unitFor, type SizeChange } from '@/core/frame/size-change';
import { findCharacter } from '../characters/character-repository';
import { matchedReading } from '../matches/matched-reading';
import { changeMany, NO_CHARACTER, type ManyOutcome } from './change-many';

/** Gives each character its size; a figure that has no height is refused. */
export const setSize = (characterIds: readonly string[], size: SizeChange, author: string): Promise<ManyOutcome> =>
  changeMany(characterIds, author, async (state, id) => {
    const character = await findCharacter(id);
    if (!character) return NO_CHARACTER;
    const unitMetres = unitFor(size, (await matchedReading(character, state)).normalisation);
    if (unitMetres === null) return `${character.name} has no height that could be scaled.`;
    return unitMetres === state.intake.unitMetres ? null : { unitMetres };
  });
