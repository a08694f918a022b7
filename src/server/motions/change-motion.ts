import type { MotionChange, MotionView, ShelfReference } from '@/contract/motions';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { PoseSource } from '@/core/intake/decisions';
import { checkHouse } from '@/core/house/house-set';
import { appendedBy, type MotionEdit } from '@/core/motion/edits/motion-edit';
import { skeletonSignature } from '@/core/rig/skeleton-signature';
import { findCharacter } from '../characters/character-repository';
import { models, type MotionRow } from '../database/models';
import { inTransaction } from '../database/transaction';
import { changeFit, changeIntake } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';
import { matchedReading } from '../matches/matched-reading';
import { fitterOf, findMotionRow, motionView } from './motion-repository';
import { newest } from '../library/library';
import { STUDIO } from '../library/studio';
import { runCarry } from '../work/pool';
import { keyedRow } from './recipe';
import { alignUntouched } from './shelve';

export type MotionOutcome =
  | { readonly ok: true; readonly motion: MotionView }
  | { readonly ok: false; readonly code: 'not-found' | 'conflict'; readonly message: string };

/**
 * Changes what was chosen about a motion. A reference pose is a decision about its file: it is read anew, and its posture
 * aligned from there.
 * @throws {YarvoError} where the pose does not fit the file.
 */
export async function changeMotion(
  id: string,
  baseRevision: number,
  { reference, ...change }: MotionChange,
  author: string,
): Promise<MotionOutcome> {
  const before = await findMotionRow(id);
  if (!before) return gone();
  if (before.revision !== baseRevision) return conflict(before, baseRevision);
  if (change.house) checkHouse(change.house);
  if (change.edits) await checkEdits(before, change.edits);
  if (reference) await setReference(before, reference, author);
  const found = await inTransaction(async (transaction) => {
    const row = await findMotionRow(id, transaction, true);
    if (!row) return null;
    if (row.revision !== baseRevision) return row;
    const { name, framesPerSecond, travel, contacts, edits, house, isRemoved } = change;
    await models().Motion.update(
      {
        ...(name !== undefined && { name }),
        ...(framesPerSecond !== undefined && { framesPerSecond }),
        ...(travel && { travel: JSON.stringify(travel) }),
        ...(contacts !== undefined && { contacts: contacts && JSON.stringify(contacts) }),
        ...(edits && { edits: edits.length > 0 ? JSON.stringify(edits) : null }),
        ...(house && row.kind === 'house' && { house: JSON.stringify(house) }),
        ...(isRemoved !== undefined && { removedAt: isRemoved ? new Date() : null }),
        revision: baseRevision + 1,
      },
      { where: { id }, transaction },
    );
    return row;
  });
  if (!found) return gone();
  if (found.revision !== baseRevision) return conflict(found, baseRevision);
  const row = await findMotionRow(id);
  const motion = row && (await motionView(row));
  return motion ? { ok: true, motion } : gone();
}

const gone = (): MotionOutcome => ({ ok: false, code: 'not-found', message: 'There is no such motion.' });
const conflict = ({ name, revision }: MotionRow, base: number): MotionOutcome => ({
  ok: false,
  code: 'conflict',
  message: `"${name}" was changed meanwhile: it is at revision ${revision}, your change was made on revision ${base}.`,
});

/**
 * A motion that is appended, however indirectly, to itself would never end.
 * @throws {YarvoError} `bad-edit`, `other-rate`, and what making the motion throws.
 */
async function checkEdits(row: MotionRow, edits: readonly MotionEdit[]): Promise<void> {
  const seen = new Set<string>();
  const waiting = [...appendedBy(edits)];
  for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
    if (seen.has(id)) continue;
    seen.add(id);
    const other = id === row.id ? null : await findMotionRow(id);
    if (!other)
      throw new YarvoError({
        code: 'bad-edit',
        message:
          id === row.id
            ? `"${row.name}" would be appended to itself.`
            : 'The motion that is to be appended is not on the shelf.',
        place: row.name,
        remedy: id === row.id ? 'Append a copy of it.' : 'Choose another.',
      });
    waiting.push(...appendedBy(JSON.parse(other.edits ?? '[]') as MotionEdit[]));
  }
  if (edits.length === 0) return;
  // Made once, for nobody: a step that cannot be done is refused before it stands on the shelf.
  const wanted = await keyedRow({ ...row, edits: JSON.stringify(edits) });
  const recipe = await wanted.recipe(await newest('definition', STUDIO.definition));
  await runCarry({ recipe, travel: wanted.travel, passengers: [] }, row.name);
}

async function setReference(row: MotionRow, reference: ShelfReference, author: string): Promise<void> {
  const { characterId, clipIndex } = row;
  if (characterId === null || clipIndex === null) return;
  const fit = await findCurrentFit(characterId);
  const character = fit && (await findCharacter(characterId));
  if (!fit || !character) return;
  const pose: PoseSource =
    reference.kind === 'frame' ? { ...reference, clip: clipIndex, isDropped: true } : { kind: reference.kind };
  if (JSON.stringify(pose) === JSON.stringify(fit.state.intake.pose)) return;
  const read = await changeIntake(characterId, { pose }, { baseRevision: fit.revision, author });
  if (!read.ok)
    throw new YarvoError({
      code: 'bad-reference',
      message: read.message,
      place: row.name,
      remedy: 'Choose another pose; nothing was changed.',
    });
  // The posture was made from the other pose: it is made anew.
  await changeFit(characterId, { kind: 'reset-posture' }, { baseRevision: read.fit.revision, author });
  await alignUntouched(characterId);
  const now = await findCurrentFit(characterId);
  const signature = skeletonSignature((await matchedReading(character, now?.state ?? fit.state)).rig);
  const fitCharacterId = (await fitterOf(signature, characterId)) ?? characterId;
  await models().Motion.update({ signature, fitCharacterId }, { where: { characterId } });
}
