import type { Added, IntakeOutcome } from '@/contract/character-view';
import { problemOf, YarvoError } from '@/core/errors/yarvo-error';
import { deleteCharacter } from './delete-character';
import { shelve } from '../motions/shelve';

/** What `shelve` says of a file that is no motion of a figure. */
const NO_MOTION: ReadonlySet<string> = new Set(['no-figure', 'no-clip']);

/**
 * Puts the clips of what an upload made on the shelf, whoever still looks at the page it came from. What cannot go there
 * leaves no character behind and is named with its reason. Done again, it is done once.
 * @throws {YarvoError} where the only file of it cannot go there, or it could not be told whether it can.
 */
export async function shelveUpload({ characters, refused }: IntakeOutcome, author: string): Promise<IntakeOutcome> {
  const shelved: Added[] = [];
  const left: IntakeOutcome['refused'][number][] = [];
  for (const character of characters) {
    try {
      // Null: it was refused by an earlier try, which Yarvo's end cut off.
      if (await shelve(character.id, undefined, { author, callId: null })) shelved.push(character);
    } catch (error) {
      // Only what the file itself is tells against it: what passes must not cost anybody the file.
      if (!(error instanceof YarvoError) || !NO_MOTION.has(error.problem.code)) throw error;
      left.push({ path: character.path, problem: problemOf(error, character.fileName) });
      await deleteCharacter(character.id, { withPacks: false });
    }
  }
  // One file that is no motion fails as a whole, as one that cannot be read does.
  if (shelved.length === 0 && left.length === 1 && refused.length === 0) throw new YarvoError(left[0].problem);
  return { characters: shelved, refused: [...refused, ...left] };
}
