import { isDeepStrictEqual } from 'node:util';
import { renewFit, type RoleChange } from '@/core/fit/renew-fit';
import type { RenewalView } from '@/contract/renewals';
import { findCharacter, type CharacterRecord } from '../characters/character-repository';
import { QueryTypes } from 'sequelize';
import { database } from '../database/connection';
import { models } from '../database/models';
import { renewInPlace } from '../fits/renew';
import { findCurrentFit, type CurrentFit } from '../fits/fit-repository';
import { entry, newest } from '../library/library';
import { currentBasis, matchedReading } from '../matches/matched-reading';

/** What became of a fit that an older reader or matcher made. */
export type RenewalOutcome = 'unchanged' | 'listed' | 'current';

/**
 * Reads and matches a fit's files again by what reads and matches today. Where that changes nothing that a person sees
 * in the fit, it is taken over at once; otherwise the changes are listed and wait for a person.
 * @throws {YarvoError} where the files cannot be read any more.
 */
export async function reviewFit(characterId: string, definitionId: string): Promise<RenewalOutcome> {
  const character = await findCharacter(characterId);
  const fit = character && (await findCurrentFit(characterId, definitionId));
  if (!character || !fit) return 'current';
  const basis = await currentBasis();
  if (isDeepStrictEqual(fit.state.basis, basis)) return 'current';
  const { changes } = await renewalOf(character, fit);
  const { Renewal } = models();
  if (changes.length === 0) {
    const isDone = await renewInPlace(character, fit, 'Yarvo', { keepsState: true });
    if (isDone) await Renewal.destroy({ where: { fitId: fit.id } });
    return isDone ? 'unchanged' : 'listed';
  }
  await Renewal.upsert({
    fitId: fit.id,
    revision: fit.revision,
    basis: JSON.stringify(basis),
    changes: JSON.stringify(changes),
    createdAt: new Date(),
  });
  return 'listed';
}

async function renewalOf(character: CharacterRecord, { state }: CurrentFit) {
  const basis = await currentBasis();
  const from = await matchedReading(character, state);
  const to = await matchedReading(character, { ...state, basis });
  const definition = await entry('definition', state.definitionId, state.definitionVersion);
  return renewFit(state, from, to, definition, basis);
}

/** What waits for a person, by the characters' names. */
export async function listRenewals(): Promise<RenewalView[]> {
  const rows = await database().query<Omit<RenewalView, 'changes'> & { changes: string }>(
    `SELECT c.id AS characterId, c.name, f.definition_id AS definitionId, r.changes
     FROM renewals r JOIN fits f ON f.id = r.fit_id JOIN characters c ON c.id = f.character_id
     WHERE c.archived_at IS NULL ORDER BY c.name`,
    { type: QueryTypes.SELECT },
  );
  return Promise.all(
    rows.map(async ({ changes, ...row }) => {
      const { roles } = await newest('definition', row.definitionId);
      const label = (role: string) => roles.find(({ id }) => id === role)?.label ?? role;
      const told = (JSON.parse(changes) as RoleChange[]).map((change) => ({ ...change, label: label(change.role) }));
      return { ...row, changes: told };
    }),
  );
}

/** Takes over what a newer reader or matcher changes in a fit, as a step of its history. @returns whether it was done. */
export async function acceptRenewal(characterId: string, definitionId: string, author: string): Promise<boolean> {
  const character = await findCharacter(characterId);
  const fit = character && (await findCurrentFit(characterId, definitionId));
  if (!character || !fit) return false;
  const isDone = await renewInPlace(character, fit, author, { keepsState: false });
  if (isDone) await models().Renewal.destroy({ where: { fitId: fit.id } });
  return isDone;
}
