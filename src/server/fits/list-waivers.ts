import { QueryTypes } from 'sequelize';
import type { WaiverRow } from '@/contract/studio';
import { FitStateSchema } from '@/core/fit/fit';
import { database } from '../database/connection';
import { today } from '@/pipeline/judge';

/** What somebody accepted on any character, those first that run out first. @param day against which last days are held. */
export async function listWaivers(day = today()): Promise<WaiverRow[]> {
  const rows = await database().query<{
    characterId: string;
    character: string;
    definition: string;
    revision: number;
    state: string;
  }>(
    `SELECT f.character_id AS characterId, ch.name AS \`character\`, f.definition_id AS definition, f.revision, c.state
     FROM fits f
     JOIN characters ch ON ch.id = f.character_id
     JOIN fit_changes c ON c.fit_id = f.id AND c.revision = f.revision
     WHERE JSON_LENGTH(c.state, '$.waivers') > 0
     ORDER BY ch.name`,
    { type: QueryTypes.SELECT },
  );
  const listed = rows.flatMap(({ state, ...row }) => {
    const { waivers, isClosed } = FitStateSchema.parse(JSON.parse(state));
    return waivers.map((waiver): WaiverRow => {
      const hasRunOut = waiver.until !== null && day > waiver.until;
      return { ...row, isClosed, waiver, hasRunOut };
    });
  });
  const last = ({ waiver }: WaiverRow): string => waiver.until ?? '9999';
  return listed.sort((a, b) => (last(a) < last(b) ? -1 : last(a) > last(b) ? 1 : 0));
}
