import type { Transaction } from 'sequelize';
import type { MotionChange, MotionView, ShelfReference } from '@/contract/motions';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { FitAction } from '@/core/fit/actions/fit-actions';
import type { FitState } from '@/core/fit/fit';
import { rebaseFit } from '@/core/fit/rebase-fit';
import { describeDecisions, type PoseSource } from '@/core/intake/decisions';
import { checkHouse } from '@/core/house/house-set';
import { appendedBy, type MotionEdit } from '@/core/motion/edits/motion-edit';
import { skeletonSignature } from '@/core/rig/skeleton-signature';
import { models, type MotionRow } from '../database/models';
import { inTransaction } from '../database/transaction';
import { refusalOf, step, type StepOutcome, type StepSubject } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';
import { currentBasis, prepareReading } from '../matches/matched-reading';
import { fitterOf, findMotionRow, motionView } from './motion-repository';
import { newest } from '../library/library';
import { STUDIO } from '../library/studio';
import { askJudge } from '../work/judge-thread';
import { runCarry } from '../work/pool';
import { keyedRow } from './recipe';
import { isUntouched } from './shelve';

export type MotionOutcome =
  | { readonly ok: true; readonly motion: MotionView }
  | { readonly ok: false; readonly code: 'not-found' | 'conflict'; readonly message: string };

/**
 * Changes what was chosen about a motion. A reference pose is a decision about its file: it is read again, and its posture
 * aligned from there. All of a change is written together, or nothing of it.
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
  try {
    const write = (transaction: Transaction) => writeChange(before, baseRevision, change, transaction);
    if (!reference || !(await changeReference(before, reference, author, write))) await inTransaction(write);
  } catch (error) {
    if (error instanceof Behind) return error.row ? conflict(error.row, baseRevision) : gone();
    throw error;
  }
  const row = await findMotionRow(id);
  const motion = row && (await motionView(row));
  return motion ? { ok: true, motion } : gone();
}

/** The motion is at another revision by now, or gone; what was about to be written is not. */
class Behind extends Error {
  constructor(readonly row: MotionRow | null) {
    super('the motion changed meanwhile');
  }
}

/** Writes a change within the transaction of what belongs to it. @throws {Behind} */
async function writeChange(
  { id, name: called }: MotionRow,
  baseRevision: number,
  change: Omit<MotionChange, 'reference'>,
  transaction: Transaction,
): Promise<void> {
  const row = await findMotionRow(id, transaction, true);
  if (row?.revision !== baseRevision) throw new Behind(row);
  const { name, framesPerSecond, travel, contacts, edits, house, isRemoved } = change;
  // Looked at again under a lock: somebody may be appending the other way round at this moment.
  if (edits) await chainOf(id, called, edits, transaction);
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
}

const gone = (): MotionOutcome => ({ ok: false, code: 'not-found', message: 'There is no such motion.' });
const conflict = ({ name, revision }: MotionRow, base: number): MotionOutcome => ({
  ok: false,
  code: 'conflict',
  message: `"${name}" was changed meanwhile: it is at revision ${revision}, your change was made on revision ${base}.`,
});

/**
 * A motion that is appended, however indirectly, to itself would never end.
 * @param transaction locks what is looked at; two that append each other's motion at once do not both get by.
 * @throws {YarvoError} `bad-edit`
 */
async function chainOf(
  ownId: string,
  ownName: string,
  edits: readonly MotionEdit[],
  transaction?: Transaction,
): Promise<void> {
  const seen = new Set<string>();
  const waiting = [...appendedBy(edits)];
  for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
    if (seen.has(id)) continue;
    seen.add(id);
    const other = id === ownId ? null : await findMotionRow(id, transaction, transaction !== undefined);
    if (!other)
      throw new YarvoError({
        code: 'bad-edit',
        message:
          id === ownId
            ? `"${ownName}" would be appended to itself.`
            : 'The motion that is to be appended is not on the shelf.',
        place: ownName,
        remedy: id === ownId ? 'Append a copy of it.' : 'Choose another.',
      });
    waiting.push(...appendedBy(JSON.parse(other.edits ?? '[]') as MotionEdit[]));
  }
}

/** @throws {YarvoError} `bad-edit`, `other-rate`, and what making the motion throws. */
async function checkEdits(row: MotionRow, edits: readonly MotionEdit[]): Promise<void> {
  await chainOf(row.id, row.name, edits);
  if (edits.length === 0) return;
  // Made once, for nobody: a step that cannot be done is refused before it stands on the shelf.
  const wanted = await keyedRow({ ...row, edits: JSON.stringify(edits) });
  const recipe = await wanted.recipe(await newest('definition', STUDIO.definition));
  await runCarry({ recipe, travel: wanted.travel, passengers: [] }, row.name);
}

/**
 * Has the motion's file read with another pose as its reference: a step of its character's history, and with it, in one
 * transaction, what `write` writes.
 * @returns whether there was anything to change; where not, nothing is written.
 * @throws {YarvoError} `bad-reference`
 */
async function changeReference(
  row: MotionRow,
  reference: ShelfReference,
  author: string,
  write: (transaction: Transaction) => Promise<void>,
): Promise<boolean> {
  const { characterId, clipIndex } = row;
  if (characterId === null || clipIndex === null) return false;
  const fit = await findCurrentFit(characterId);
  if (!fit) return false;
  const pose: PoseSource =
    reference.kind === 'frame' ? { ...reference, clip: clipIndex, isDropped: true } : { kind: reference.kind };
  if (JSON.stringify(pose) === JSON.stringify(fit.state.intake.pose)) return false;
  let signature = '';
  const work = async ({ character, state, reading, yardsticks: { definition } }: StepSubject): Promise<StepOutcome> => {
    const intake = { ...state.intake, pose };
    const basis = await currentBasis();
    const next = await prepareReading(character, { ...state, intake, basis }).catch(refusalOf);
    if ('message' in next) return { ok: false, message: next.message };
    const { record } = next;
    const act = (fit: FitState, action: FitAction) =>
      askJudge({ name: 'apply', fit, action, definition }, record, record.bytes);
    const read = { ...rebaseFit(state, reading, record, definition, intake), basis };
    // The posture was made from the other pose: it is made from this one.
    const reset = await act(read, { kind: 'reset-posture' });
    const plain = reset.ok ? reset.state : read;
    const aligned = isUntouched(plain) ? await act(plain, { kind: 'align-posture' }) : reset;
    signature = skeletonSignature(record.rig);
    return {
      ok: true,
      kind: 'act',
      action: { kind: 'intake', change: { pose } },
      description: describeDecisions(state.intake, intake),
      // Where it cannot be aligned it is carried as it stands, and its Posture says why.
      state: aligned.ok ? aligned.state : plain,
      reading: next,
    };
  };
  const also = async (transaction: Transaction): Promise<void> => {
    await write(transaction);
    const fitCharacterId = (await fitterOf(signature, characterId)) ?? characterId;
    await models().Motion.update({ signature, fitCharacterId }, { where: { characterId }, transaction });
  };
  const outcome = await step(characterId, { baseRevision: fit.revision, author }, work, { also });
  if (outcome.ok) return true;
  throw new YarvoError({
    code: 'bad-reference',
    message: outcome.message,
    place: row.name,
    remedy: 'Choose another pose; nothing was changed.',
  });
}
