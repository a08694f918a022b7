import { ROSTER_SIZES } from '@/contract/requests';
import { QueryTypes, type Transaction } from 'sequelize';
import type { RosterPage, RosterRow } from '@/contract/character-view';
import { database } from '../database/connection';
import { likeText } from '../database/like-text';
import { models } from '../database/models';
import { STUDIO } from '../library/studio';

export interface RosterQuery {
  /** Part of the name, the file's name or the state, whatever its case. */
  readonly text?: string;
  /** Only those in the archive, or only those not in it; both where it is not said. */
  readonly isArchived?: boolean;
  /** Definition of the fits that are shown; the studio's own by default. */
  readonly definitionId?: string;
  /** From 1. */
  readonly page?: number;
  readonly size?: number;
}

/** What the database answers, before its numbers and dates are ours. */
type Row = Omit<RosterRow, 'isHumanoid' | 'isArchived' | 'updatedAt'> & {
  readonly isHumanoid: number;
  readonly isArchived: number;
  readonly updatedAt: Date;
};

/**
 * A page of the characters, newest change first; three queries, however many there are. What became a part of another
 * character is not among them.
 */
export async function readRoster(query: RosterQuery = {}): Promise<RosterPage> {
  const { text = '', isArchived, definitionId = STUDIO.definition, page = 1, size = ROSTER_SIZES.usual } = query;
  const wanted = text.trim();
  const where = [
    'c.is_part = 0',
    ...(wanted === '' ? [] : ["CONCAT_WS(' ', c.name, c.file_name, c.state) COLLATE utf8mb4_general_ci LIKE :pattern"]),
    ...(isArchived === undefined ? [] : [`c.archived_at IS ${isArchived ? 'NOT ' : ''}NULL`]),
  ].join(' AND ');
  const replacements = {
    definitionId,
    pattern: `%${likeText(wanted)}%`,
    size,
    offset: (page - 1) * size,
  };
  const select = <Answer extends object>(sql: string) =>
    database().query<Answer>(sql, { replacements, type: QueryTypes.SELECT });
  const from = `FROM characters c JOIN fits f ON f.character_id = c.id AND f.definition_id = :definitionId WHERE ${where}`;
  const [[{ total }], [{ archived }], rows] = await Promise.all([
    select<{ total: number }>(`SELECT COUNT(*) AS total ${from}`),
    select<{ archived: number }>(
      'SELECT COUNT(*) AS archived FROM characters WHERE archived_at IS NOT NULL AND is_part = 0',
    ),
    select<Row>(
      `SELECT c.id, c.name, c.file_name AS fileName, c.state, c.kind, c.portrait_hash AS portrait, c.bones,
         c.is_humanoid AS isHumanoid, c.archived_at IS NOT NULL AS isArchived, f.doubts, f.blockers,
         f.updated_at AS updatedAt,
         COALESCE((SELECT author FROM fit_changes WHERE fit_id = f.id AND revision = f.revision), c.created_by) AS updatedBy
       ${from} ORDER BY f.updated_at DESC, c.name LIMIT :size OFFSET :offset`,
    ),
  ]);
  return { rows: rows.map(asRow), total: Number(total), archived: Number(archived), page, size };
}

const asRow = (row: Row): RosterRow => ({
  ...row,
  isHumanoid: Boolean(row.isHumanoid),
  isArchived: Boolean(row.isArchived),
  updatedAt: new Date(row.updatedAt).toISOString(),
});

/** The drawing of that name as SVG text, null where no character has it. */
export async function readPortrait(hash: string): Promise<string | null> {
  const [row] = await database().query<{ portrait: string }>(
    'SELECT portrait FROM characters WHERE portrait_hash = :hash LIMIT 1',
    { replacements: { hash }, type: QueryTypes.SELECT },
  );
  return row?.portrait ?? null;
}

/** Folder under which the files of a joined character stand among those of its new whole. */
export const partFolder = (characterId: string): string => `part-${characterId.slice(0, 8)}`;

/**
 * Marks which of the characters that were joined into one are parts of it now: joining can be undone, and redone.
 * @param parts paths of the parts that the whole's decisions name.
 */
export async function markParts(wholeId: string, parts: readonly string[], transaction: Transaction): Promise<void> {
  const folders = new Set(parts.map((path) => path.split('/')[0]));
  const { Character } = models();
  const joined = await Character.findAll({ where: { joinedInto: wholeId }, attributes: ['id'], transaction });
  for (const { id } of joined)
    await Character.update({ isPart: folders.has(partFolder(id)) }, { where: { id }, transaction });
}
