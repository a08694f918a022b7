import { QueryTypes } from 'sequelize';
import { database } from '../database/connection';
import { STUDIO } from '../library/studio';
import { stampOldFits } from './stamp-old-fits';

/** A character that motions are carried to, before it is read. */
export interface Rider {
  readonly id: string;
  readonly name: string;
  /** Id and version of the definition that its fit is to. */
  readonly definition: string;
  readonly fitStamp: string;
}

/** Some characters, those of one skeleton beside each other so that they meet in one call; one statement. */
export async function listRiders(ids: readonly string[]): Promise<Rider[]> {
  if (ids.length === 0) return [];
  await stampOldFits();
  return database().query<Rider>(
    `SELECT c.id, c.name, CONCAT(f.definition_id, '@', JSON_VALUE(s.state, '$.definitionVersion')) AS definition,
       f.carry_stamp AS fitStamp
     FROM characters c
     JOIN fits f ON f.character_id = c.id AND f.definition_id = :definitionId
     JOIN fit_changes s ON s.fit_id = f.id AND s.revision = f.revision
     WHERE c.id IN (:ids)
     ORDER BY definition, COALESCE(c.skeleton, c.id), c.id`,
    { replacements: { ids, definitionId: STUDIO.definition }, type: QueryTypes.SELECT },
  );
}
