import type { MotionView } from '@/contract/motions';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { FitState } from '@/core/fit/fit';
import { isRest } from '@/core/rig/pose';
import { skeletonSignature } from '@/core/rig/skeleton-signature';
import { findCharacter } from '../characters/character-repository';
import { madeOnce } from '../calls/made-once';
import { models, type MotionRow } from '../database/models';
import { changeFit } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';
import { matchedReading } from '../matches/matched-reading';
import type { Making } from './add-motion';
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
  { author, callId }: Making,
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
  const ids = await madeOnce(callId, async (transaction) => {
    const known = new Map((await motionsOfCharacter(characterId, transaction)).map((row) => [row.clipIndex, row]));
    const shelved: string[] = [];
    for (const clipIndex of wanted) {
      const there = known.get(clipIndex);
      if (there) {
        await models().Motion.update(
          { removedAt: null, signature, revision: there.revision + 1 },
          { where: { id: there.id }, transaction },
        );
        shelved.push(there.id);
        continue;
      }
      const { name } = rig.clips[clipIndex];
      const row: MotionRow = {
        // A file with one clip is known by its own name: few name their only take.
        name:
          wanted.length === 1 && rig.clips.length === 1 ? character.name : `${character.name}: ${name}`.slice(0, 200),
        ...newRow(author),
        kind: 'clip',
        characterId,
        clipName: name.slice(0, 300),
        clipIndex,
        clipKey: `${characterId} ${clipIndex}`,
        fitCharacterId: fitter,
        signature,
      };
      await models().Motion.create(row, { transaction });
      shelved.push(row.id);
    }
    return shelved;
  });
  const rows = (await motionsOfCharacter(characterId)).filter(({ id }) => ids.includes(id));
  return (await Promise.all(rows.map(motionView))).filter((view) => view !== null);
}

/** Whether nobody has posed or closed a fit. */
export const isUntouched = ({ isClosed, posture }: Pick<FitState, 'isClosed' | 'posture'>): boolean =>
  !isClosed && isRest(posture) && posture.taken === null && posture.aligned.length === 0;

/** Turns a source onto the reference pose, unless somebody posed it or closed it. */
async function alignUntouched(characterId: string): Promise<void> {
  const fit = await findCurrentFit(characterId);
  if (!fit || !isUntouched(fit.state)) return;
  // Where it cannot be aligned it is carried as it stands, and its Posture says why.
  await changeFit(characterId, { kind: 'align-posture' }, { baseRevision: fit.revision, author: 'Yarvo' });
}
