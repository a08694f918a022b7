import type { Board, BoardCell } from '@/contract/board';
import { ROSTER_SIZES } from '@/contract/requests';
import { shownTexts } from '@/core/text/shown-text';
import { readRoster } from '../characters/roster';
import { findCurrentFit } from '../fits/fit-repository';
import { databaseQueue } from '../jobs/database-queue';
import { jobView } from '../jobs/job-view';
import { listMotionRows } from '../motions/motion-repository';
import { houseMotions, keyedRow } from '../motions/recipe';
import { listCarried, stampOf } from './carried-repository';
import { fitStampOf } from './passengers';

/** The board as screens hold it. @param wanted ids of characters; all humanoids for null. */
export async function readBoard(wanted: ReadonlySet<string> | null): Promise<Board> {
  const [{ rows }, motionRows, queued] = await Promise.all([
    readRoster({ isArchived: false, size: ROSTER_SIZES.most }),
    listMotionRows(),
    databaseQueue.list({ states: ['queued', 'running'] }),
  ]);
  const chosen = rows
    .filter(({ id, kind, isHumanoid }) => (wanted ? wanted.has(id) : isHumanoid && kind !== 'motion'))
    .sort((a, b) => a.name.localeCompare(b.name));
  const motions = [...(await Promise.all(motionRows.map(keyedRow))), ...houseMotions()];
  const stamps = new Map(motions.map(({ key, stamp }) => [key, stamp]));
  const fits = new Map(await Promise.all(chosen.map(async ({ id }) => [id, await findCurrentFit(id)] as const)));
  const records = await listCarried(chosen.map(({ id }) => id));
  const cells = records.flatMap((record): BoardCell[] => {
    const motionStamp = stamps.get(record.motionKey);
    const fit = fits.get(record.characterId);
    if (motionStamp === undefined || !fit) return [];
    const now = stampOf(motionStamp, fitStampOf(fit));
    const { characterId, motionKey, frames, framesPerSecond, sharesWith, differsDeg, drilled, problem, author, at } =
      record;
    return [
      {
        characterId,
        motionKey,
        state: record.stamp !== now ? 'old' : problem ? 'failed' : 'carried',
        ...{ frames, framesPerSecond, sharesWith, differsDeg, drilled, problem, author },
        at: at.toISOString(),
      },
    ];
  });
  return shownTexts({
    characters: chosen.map(({ id, name }) => ({
      id,
      name,
      canCarry: fits.get(id)?.state.assignments.hips !== undefined,
    })),
    motions: motions.map(({ key, name, isHouse }) => ({ key, name, isHouse })),
    cells,
    jobs: queued.filter(({ kind }) => kind === 'carry' || kind === 'motion-out').map(jobView),
  });
}
