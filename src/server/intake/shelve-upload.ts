import type { Added, IntakeOutcome } from '@/contract/character-view';
import { problemOf, YarvoError } from '@/core/errors/yarvo-error';
import { deleteCharacter } from './delete-character';
import { shelve } from '../motions/shelve';

/**
 * Puts the clips of what an upload made on the shelf, whoever still looks at the page it came from. What cannot go there
 * leaves no character behind and is named with its reason; one that was there before stays. Done again, it is done once.
 * @throws {YarvoError} where the only file of it cannot go there.
 */
export async function shelveUpload({ characters, refused }: IntakeOutcome, author: string): Promise<IntakeOutcome> {
  const shelved: Added[] = [];
  const left: IntakeOutcome['refused'][number][] = [];
  for (const character of characters) {
    try {
      // Null: it was refused by an earlier try, which Yarvo's end cut off.
      if (await shelve(character.id, undefined, { author, callId: null })) shelved.push(character);
    } catch (error) {
      if (!(error instanceof YarvoError)) throw error;
      left.push({ path: character.path, problem: problemOf(error, character.fileName) });
      if (!character.isAlreadyThere) await deleteCharacter(character.id, { withPacks: false });
    }
  }
  // One file that is no motion fails as a whole, as one that cannot be read does.
  if (shelved.length === 0 && left.length === 1 && refused.length === 0) throw new YarvoError(left[0].problem);
  return { characters: shelved, refused: [...refused, ...left] };
}
