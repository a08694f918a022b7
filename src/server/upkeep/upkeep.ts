import { setTimeout as wait } from 'node:timers/promises';
import { Op } from 'sequelize';
import type { CharacterState } from '@/contract/character-view';
import { historyPosition } from '@/core/fit/history';
import { collectBlobs } from '../blobs/blob-store';
import { findCharacter } from '../characters/character-repository';
import { decisionsKey } from '../readings/decisions-key';
import { interpretationOf, removeReadings } from '../readings/interpretations';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { countedBy, countReading } from '../fits/assess-reading';
import { findCurrentFit, findFit, listChangeRows, readFitState } from '../fits/fit-repository';
import { log } from '../log/logger';

/** A reading that somebody looked at this recently may be wanted again. */
const UNUSED_FOR_MS = 60 * 60_000;
const EVERY_MS = 60 * 60_000;
/** Between two characters: upkeep never has the server to itself. */
const BREATH_MS = 20;

export interface UpkeepReport {
  readonly recounted: number;
  readonly readings: number;
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
  const recounted = await recountFits();
  const readings = await collectReadings(new Date(now.getTime() - UNUSED_FOR_MS));
  const { count: blobs, bytes } = await collectBlobs();
  return { recounted, readings, blobs, bytes };
}

/**
 * Counts that other versions of checks, definition or profile made are made again. A fit that changes meanwhile brings
 * its own new counts along. @returns how many fits were counted.
 */
async function recountFits(): Promise<number> {
  const fits = await models().Fit.findAll({ attributes: ['id', 'characterId', 'definitionId', 'countedBy'] });
  let count = 0;
  for (const { characterId } of fits.filter((fit) => fit.countedBy !== countedBy(fit))) {
    if (await recountFit(characterId)) count++;
    await wait(BREATH_MS);
  }
  return count;
}

async function recountFit(characterId: string): Promise<boolean> {
  const character = await findCharacter(characterId);
  const fit = await findCurrentFit(characterId);
  if (!character || !fit) return false;
  const counts = countReading(await interpretationOf(character, fit.state.intake), fit.state);
  return inTransaction(async (transaction) => {
    const locked = await findFit(characterId, transaction, true);
    if (locked?.revision !== fit.revision) return false;
    const { Fit, Character } = models();
    await Fit.update({ ...counts, countedBy: countedBy(fit.state) }, { where: { id: fit.id }, transaction });
    // What was ready is not while a blocker is open; what was in work becomes ready only by somebody's change.
    const ready: CharacterState = 'ready';
    if (counts.blockers > 0)
      await Character.update({ state: 'in work' }, { where: { id: characterId, state: ready }, transaction });
    return true;
  });
}

/** Keeps the readings that a fit stands on and that undo and redo lead to; others are made again when wanted. */
async function collectReadings(before: Date): Promise<number> {
  const old = await models().Interpretation.findAll({
    where: { createdAt: { [Op.lt]: before } },
    attributes: ['characterId'],
    group: ['characterId'],
  });
  let count = 0;
  for (const { characterId } of old) {
    const fit = await findCurrentFit(characterId);
    if (!fit) continue;
    const { undoTo, redoTo } = historyPosition(await listChangeRows(fit.id));
    const states = [fit.state];
    for (const revision of [undoTo, redoTo]) if (revision !== null) states.push(await readFitState(fit.id, revision));
    count += await removeReadings(
      characterId,
      states.map(({ intake }) => decisionsKey(intake)),
      before,
    );
    await wait(BREATH_MS);
  }
  return count;
}
