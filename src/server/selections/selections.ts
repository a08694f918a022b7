import { createHash } from 'node:crypto';
import { Op } from 'sequelize';
import { YarvoError } from '@/core/errors/yarvo-error';
import { models } from '../database/models';

/** One that nobody looked at for this long is forgotten. */
const UNUSED_FOR_MS = 90 * 24 * 60 * 60_000;

/** Keeps characters that are looked at together; equal ones are kept once. @returns its id. */
export async function keepSelection(characterIds: readonly string[]): Promise<string> {
  const text = JSON.stringify([...new Set(characterIds)].sort());
  const id = createHash('sha256').update(text).digest('hex').slice(0, 32);
  await models().Selection.upsert({ id, characterIds: text, usedAt: new Date() });
  return id;
}

/** Ids of the characters of a selection. @throws {YarvoError} `no-selection` */
async function readSelection(id: string): Promise<string[]> {
  const row = await models().Selection.findByPk(id);
  if (!row)
    throw new YarvoError({
      code: 'no-selection',
      message: 'There is no such selection; it may have been forgotten.',
      place: 'selection',
      remedy: 'Choose the characters in the roster again.',
    });
  return JSON.parse(row.characterIds) as string[];
}

/** The characters that a request names, by their ids or by a selection; null for all. */
export const chosenCharacters = async ({
  characters,
  selection,
}: {
  readonly characters?: readonly string[];
  readonly selection?: string;
}): Promise<readonly string[] | null> =>
  characters ?? (selection === undefined ? null : await readSelection(selection));

/** Forgets selections that nobody looks at. */
export const forgetSelections = (now: Date): Promise<number> =>
  models().Selection.destroy({ where: { usedAt: { [Op.lt]: new Date(now.getTime() - UNUSED_FOR_MS) } } });
