import { QueryTypes } from 'sequelize';
import type { Board, BoardCell, BoardQuery } from '@/contract/board';
import { shownTexts } from '@/core/text/shown-text';
import { database } from '../database/connection';
import { databaseQueue } from '../jobs/database-queue';
import { STUDIO } from '../library/studio';
import { stampedMotions, type StampedMotion } from '../motions/recipe';
import { chosenCharacters } from '../selections/selections';
import { listCarried, stampOf } from './carried-repository';
import { stampOldFits } from './stamp-old-fits';

type Asked = Partial<BoardQuery>;

/** What a cell has to be for each filter; `is_now`: nothing that it hangs on has changed since. */
const IS_MEANT: Readonly<Record<BoardQuery['filter'], string>> = {
  all: 'TRUE',
  flagged: 'is_now AND NOT is_failed AND harm > 0',
  failed: 'is_now AND is_failed',
  old: 'NOT is_now',
};

/**
 * A page of the board as screens hold it: what the page's rows show, and counts of all. The statements are as many for
 * ten characters as for thousands, and what is answered grows by the page alone.
 */
export async function readBoard(query: Asked = {}): Promise<Board> {
  const { page = 1, size = 100, order = 'name', filter = 'all' } = query;
  const ids = await chosenCharacters(query);
  await stampOldFits();
  const motions = await stampedMotions();
  const from = boardOf(ids, motions);
  const [rows, [totals], [counts], queued] = await Promise.all([
    select<{ id: string; name: string; canCarry: number; carryStamp: string }>(
      `${from} SELECT rider.id, rider.name, rider.can_carry AS canCarry, rider.carry_stamp AS carryStamp
       FROM rider ${filter === 'all' && order === 'name' ? '' : 'LEFT JOIN cell ON cell.character_id = rider.id'}
       ${filter === 'all' ? '' : `WHERE ${IS_MEANT[filter]}`}
       GROUP BY rider.id
       ORDER BY ${order === 'harm' ? `SUM(IF(${IS_MEANT.flagged}, harm, 0)) DESC, ` : ''}rider.name, rider.id
       LIMIT :size OFFSET :offset`,
      { ids, size, offset: (page - 1) * size },
    ),
    select<{ total: number; able: number }>(
      `${from} SELECT COUNT(*) AS total, COALESCE(SUM(can_carry), 0) AS able FROM rider
       ${filter === 'all' ? '' : `WHERE id IN (SELECT character_id FROM cell WHERE ${IS_MEANT[filter]})`}`,
      { ids },
    ),
    select<Record<'flagged' | 'failed' | 'old', number>>(
      `${from} SELECT ${(['flagged', 'failed', 'old'] as const)
        .map((each) => `COALESCE(SUM(${IS_MEANT[each]}), 0) AS \`${each}\``)
        .join(', ')} FROM cell`,
      { ids },
    ),
    databaseQueue.list({ states: ['queued', 'running'] }),
  ]);
  const stamps = new Map(motions.map(({ key, stamp }) => [key, stamp]));
  const fitStamps = new Map(rows.map(({ id, carryStamp }) => [id, carryStamp]));
  const records = await listCarried([...fitStamps.keys()]);
  const cells = records.flatMap((record): BoardCell[] => {
    const motionStamp = stamps.get(record.motionKey);
    const fitStamp = fitStamps.get(record.characterId);
    if (motionStamp === undefined || fitStamp === undefined) return [];
    const { stamp, at, problem, ...rest } = record;
    const isNow = stamp === stampOf(motionStamp, fitStamp);
    return [{ ...rest, problem, state: !isNow ? 'old' : problem ? 'failed' : 'carried', at: at.toISOString() }];
  });
  return shownTexts({
    characters: rows.map(({ id, name, canCarry }) => ({ id, name, canCarry: Boolean(canCarry) })),
    motions: motions.map(({ key, name, isHouse }) => ({ key, name, isHouse })),
    cells,
    jobs: queued.filter(({ kind }) => kind === 'carry' || kind === 'motion-out'),
    total: Number(totals.total),
    able: Number(totals.able),
    page,
    size,
    counts: { flagged: Number(counts.flagged), failed: Number(counts.failed), old: Number(counts.old) },
  });
}

/** Ids of the board's characters that motions can be carried to. */
export async function boardRiders(asked: Pick<Asked, 'characters' | 'selection'>): Promise<string[]> {
  const ids = await chosenCharacters(asked);
  await stampOldFits();
  const rows = await select<{ id: string }>(
    `${boardOf(ids, [])} SELECT id FROM rider ${ids ? '' : 'WHERE can_carry'} ORDER BY name`,
    { ids },
  );
  return rows.map(({ id }) => id);
}

const select = <Row extends object>(sql: string, replacements: Record<string, unknown>): Promise<Row[]> =>
  database().query<Row>(sql, {
    replacements: { ...replacements, definitionId: STUDIO.definition },
    type: QueryTypes.SELECT,
  });

/** `rider`: characters of the board, by their fits. `cell`: what was carried to them, and whether it holds. */
function boardOf(ids: readonly string[] | null, motions: readonly StampedMotion[]): string {
  const escape = (text: string): string => database().escape(text);
  const stamps = motions.map(({ key, stamp }) => `SELECT ${escape(key)} AS motion_key, ${escape(stamp)} AS stamp`);
  const nothing = "SELECT '' AS motion_key, '' AS stamp";
  return `WITH rider AS (
      SELECT c.id, c.name, f.can_carry, f.carry_stamp FROM characters c
      JOIN fits f ON f.character_id = c.id AND f.definition_id = :definitionId
      WHERE c.is_part = 0 AND c.archived_at IS NULL
        AND ${ids ? 'c.id IN (:ids)' : "c.is_humanoid AND c.kind <> 'motion'"}),
    shelf AS (${stamps.length > 0 ? stamps.join(' UNION ALL ') : nothing}),
    cell AS (
      SELECT k.character_id, k.harm, k.is_failed,
        k.stamp = SHA2(CONCAT(shelf.stamp, '\\n', rider.carry_stamp), 256) AS is_now
      FROM carried k JOIN rider ON rider.id = k.character_id JOIN shelf ON shelf.motion_key = k.motion_key)`;
}
