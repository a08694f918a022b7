import type { MotionView } from '@/contract/motions';
import { YarvoError } from '@/core/errors/yarvo-error';
import { isRest } from '@/core/rig/pose';
import { skeletonSignature } from '@/core/rig/skeleton-signature';
import { findCharacter } from '../characters/character-repository';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { changeFit } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';
import { matchedReading } from '../matches/matched-reading';
import { newRow } from './new-row';
import { fitterOf, motionsOfCharacter, motionView } from './motion-repository';

/**
 * Puts clips of a character on the shelf. Its skeleton is matched already; its posture is aligned here where nobody has
 * touched it. A skeleton that another source was fitted for asks nothing: that fit counts.
 *
 * @param clips by index; all that move where none is named.
 * @returns null for an unknown character.
 * @throws {YarvoError} `no-figure`, `no-clip`
 */
export async function shelve(
  characterId: string,
  clips: readonly number[] | undefined,
  author: string,
): Promise<MotionView[] | null> {
  const character = await findCharacter(characterId);
  const fit = character && (await findCurrentFit(characterId));
  if (!character || !fit) return null;
  const { rig, match } = await matchedReading(character, fit.state);
  const place = character.fileName;
  if (!match.creature.isHumanoid || !fit.state.assignments.hips)
    throw new YarvoError({
      code: 'no-figure',
      message: `The motion moves no humanoid: ${match.creature.reasons[0] ?? 'no hips were found'}.`,
      place,
      remedy:
        'Give a motion of a figure with hips, two legs and two arms; or assign its bones on Match and add it from there.',
    });
  const wanted = clips ?? rig.clips.flatMap(({ durationSeconds }, index) => (durationSeconds > 0 ? [index] : []));
  const missing = wanted.find((index) => !rig.clips[index]);
  if (wanted.length === 0 || missing !== undefined)
    throw new YarvoError({
      code: 'no-clip',
      message:
        missing === undefined
          ? 'No clip of the file moves anything.'
          : `There is no clip ${missing}; the file has ${rig.clips.length}.`,
      place,
      remedy: 'Export the file with its motion.',
    });
  const signature = skeletonSignature(rig);
  const fitter = (await fitterOf(signature, characterId)) ?? characterId;
  if (fitter === characterId) await alignUntouched(characterId);
  await inTransaction(async (transaction) => {
    const known = new Map((await motionsOfCharacter(characterId)).map((row) => [row.clipIndex, row]));
    for (const clipIndex of wanted) {
      const there = known.get(clipIndex);
      if (there) {
        await models().Motion.update(
          { removedAt: null, signature, revision: there.revision + 1 },
          { where: { id: there.id }, transaction },
        );
        continue;
      }
      const { name } = rig.clips[clipIndex];
      await models().Motion.create(
        {
          // A file with one clip is known by its own name: few name their only take.
          name:
            wanted.length === 1 && rig.clips.length === 1 ? character.name : `${character.name}: ${name}`.slice(0, 200),
          ...newRow(author),
          kind: 'clip',
          characterId,
          clipName: name.slice(0, 300),
          clipIndex,
          fitCharacterId: fitter,
          signature,
        },
        { transaction },
      );
    }
  });
  const rows = (await motionsOfCharacter(characterId)).filter(
    ({ clipIndex }) => clipIndex !== null && wanted.includes(clipIndex),
  );
  return (await Promise.all(rows.map(motionView))).filter((view) => view !== null);
}

/** Turns a source onto the reference pose, unless somebody posed it or closed it. */
export async function alignUntouched(characterId: string): Promise<void> {
  const fit = await findCurrentFit(characterId);
  if (!fit || fit.state.isClosed) return;
  const { posture } = fit.state;
  if (!isRest(posture) || posture.taken !== null || posture.aligned.length > 0) return;
  // Where it cannot be aligned it is carried as it stands, and its Posture says why.
  await changeFit(characterId, { kind: 'align-posture' }, { baseRevision: fit.revision, author: 'Yarvo' });
}
