import { setTimeout as wait } from 'node:timers/promises';
import { Op, QueryTypes } from 'sequelize';
import type { FitState } from '@/core/fit/fit';
import { database } from '../database/connection';
import type { CharacterState } from '@/contract/character-view';
import { historyPosition } from '@/core/fit/history';
import { collectBlobs } from '../blobs/blob-store';
import { findCharacter } from '../characters/character-repository';
import { READER_VERSION } from '@/pipeline/versions';
import { decisionsKey } from '../readings/decisions-key';
import { removeReadings } from '../readings/readings';
import { currentBasis, forgetReadings, matchedReading } from '../matches/matched-reading';
import { forgetCalls } from '../calls/made-once';
import { forgetSelections } from '../selections/selections';
import { databaseQueue } from '../jobs/database-queue';
import { removeStaleFolders } from './temporary-folders';
import { queueRematch } from '../renewals/rematch-job';
import { collectUploads } from '../uploads/upload-repository';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { today } from '@/pipeline/judge';
import { countReading, yardsticksOf } from '../fits/assess-reading';
import { countedBy, partsOfCount } from '../library/count-names';
import { findCurrentFit, findFit, listChangeRows, listFits, readFitState } from '../fits/fit-repository';
import { newest } from '../library/library';
import { studioProfile } from '../library/studio';
import { log } from '../log/logger';

/** A reading that somebody looked at this recently may be wanted again. */
const UNUSED_FOR_MS = 60 * 60_000;
const EVERY_MS = 60 * 60_000;
/** What became of a job is known this long, and what it wrote for download is kept as long. */
const FINISHED_FOR_MS = 7 * 24 * 60 * 60_000;
/** Between two characters: upkeep never has the server to itself. */
const BREATH_MS = 20;

export interface UpkeepReport {
  readonly renewed: number;
  readonly recounted: number;
  readonly readings: number;
  /** Zips of written motions, and folders that killed processes left behind. */
  readonly zips: number;
  readonly folders: number;
  readonly blobs: number;
  readonly bytes: number;
}

/** Derives old counts again and removes what nothing needs, at once and then every hour. Never throws. */
export async function keepUp(): Promise<void> {
  for (;;) {
    try {
      const report = await runUpkeep();
      log().info({ report }, 'upkeep');
    } catch (error) {
      log().warn({ err: error }, 'upkeep failed; tried again in an hour');
    }
    await wait(EVERY_MS, undefined, { ref: false });
  }
}

/** @param now for tests. */
export async function runUpkeep(now: Date = new Date()): Promise<UpkeepReport> {
  const renewed = await renewFits();
  const recounted = await recountFits(today(now));
  const readings = await collectReadings(new Date(now.getTime() - UNUSED_FOR_MS));
  await databaseQueue.forget(new Date(now.getTime() - FINISHED_FOR_MS));
  await collectUploads();
  await forgetCalls(now);
  await forgetSelections(now);
  const zips = await removeZips(new Date(now.getTime() - FINISHED_FOR_MS));
  const folders = await removeStaleFolders();
  const { count: blobs, bytes } = await collectBlobs();
  return { renewed, recounted, readings, zips, folders, blobs, bytes };
}

/**
 * Counts that other versions of checks, definition or profile made are made again, and those of fits whose waivers ran out.
 * A fit that changes meanwhile brings its own new counts along. @returns how many fits were counted.
 */
async function recountFits(day: string): Promise<number> {
  const fits = await models().Fit.findAll({ attributes: ['characterId', 'definitionId', 'countedBy'] });
  const profile = await studioProfile();
  const isCurrent = new Map<string, boolean>();
  for (const { definitionId, countedBy: by } of fits) {
    const key = `${definitionId} ${by}`;
    if (isCurrent.has(key)) continue;
    const definition = await newest('definition', definitionId);
    const { yardsticks, until } = partsOfCount(by);
    const isSame = yardsticks === countedBy({ definition, profile }, { waivers: [] });
    isCurrent.set(key, isSame && (until === null || day <= until));
  }
  let count = 0;
  for (const fit of fits.filter(({ definitionId, countedBy: by }) => !isCurrent.get(`${definitionId} ${by}`))) {
    if (await recountFit(fit, day)) count++;
    await wait(BREATH_MS);
  }
  return count;
}

async function recountFit(
  row: { characterId: string; definitionId: string; countedBy: string },
  day: string,
): Promise<boolean> {
  const { characterId, definitionId } = row;
  const character = await findCharacter(characterId);
  const fit = await findCurrentFit(characterId, definitionId);
  if (!character || !fit) return false;
  const yardsticks = await yardsticksOf(fit.state);
  if (row.countedBy === countedBy(yardsticks, fit.state, day)) return false;
  const counts = await countReading(await matchedReading(character, fit.state), fit.state, yardsticks, day);
  return inTransaction(async (transaction) => {
    const locked = await findFit(characterId, definitionId, transaction, true);
    if (locked?.revision !== fit.revision) return false;
    const { Fit, Character } = models();
    await Fit.update(counts, { where: { id: fit.id }, transaction });
    // What was ready is not while a blocker is open; what was in work becomes ready only by somebody's change.
    const ready: CharacterState = 'ready';
    if (counts.blockers > 0)
      await Character.update({ state: 'in work' }, { where: { id: characterId, state: ready }, transaction });
    return true;
  });
}

/** Zips of written motions can be made again. @returns how many were removed. */
const removeZips = (before: Date): Promise<number> =>
  models().MotionOut.destroy({ where: { createdAt: { [Op.lt]: before } } });

/** Queues a second look at fits that an older reader or matcher made. @returns how many. */
async function renewFits(): Promise<number> {
  const basis = await currentBasis();
  const rows = await database().query<{ characterId: string; definitionId: string; name: string }>(
    `SELECT f.character_id AS characterId, f.definition_id AS definitionId, ch.name FROM fits f
     JOIN characters ch ON ch.id = f.character_id
     JOIN fit_changes c ON c.fit_id = f.id AND c.revision = f.revision
     LEFT JOIN renewals r ON r.fit_id = f.id AND r.revision = f.revision AND r.basis = :basis
     WHERE r.fit_id IS NULL AND (
       COALESCE(JSON_VALUE(c.state, '$.basis.reader'), 1) <> :reader
       OR COALESCE(JSON_VALUE(c.state, '$.basis.matcher'), 1) <> :matcher
       OR COALESCE(JSON_VALUE(c.state, '$.basis.dialect'), 'shipped@1') <> :dialect)`,
    { replacements: { ...basis, basis: JSON.stringify(basis) }, type: QueryTypes.SELECT },
  );
  let count = 0;
  for (const { name, ...fit } of rows) if (await queueRematch(databaseQueue, fit, name)) count++;
  return count;
}

/** Keeps the readings that fits stand on and that undo and redo lead to; others are made again when wanted. */
async function collectReadings(before: Date): Promise<number> {
  const old = await models().Reading.findAll({
    where: { createdAt: { [Op.lt]: before } },
    attributes: ['characterId'],
    group: ['characterId'],
  });
  let count = 0;
  for (const { characterId } of old) {
    const states = await statesWithinReach(characterId);
    if (states.length === 0) continue;
    const keys = states.map(({ intake }) => decisionsKey(intake));
    const removed = await removeReadings(characterId, keys, before, READER_VERSION);
    // What is kept stays at hand; one that is at hand and not kept would never be kept again.
    if (removed > 0) forgetReadings(characterId);
    count += removed;
    await wait(BREATH_MS);
  }
  return count;
}

/** States of all fits of a character as they stand, and one step back and forth. */
async function statesWithinReach(characterId: string): Promise<FitState[]> {
  const states: FitState[] = [];
  for (const { id, revision } of await listFits(characterId)) {
    const { undoTo, redoTo } = historyPosition(await listChangeRows(id));
    for (const at of [revision, undoTo, redoTo]) if (at !== null) states.push(await readFitState(id, at));
  }
  return states;
}
