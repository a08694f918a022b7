import type { CharacterRemains } from '@/contract/character-view';
import { outcomeOf, type Outcome } from '@/contract/client';
import type { Problem } from '@/core/errors/yarvo-error';
import { api } from './api';

const problemOf = (outcome: Outcome<unknown>): Problem | null => (outcome.ok ? null : outcome.problem);
const PLACE = 'roster';

/** Puts characters away, or brings them back. @returns what went wrong, or null. */
export const setArchived = async (characterIds: readonly string[], isArchived: boolean): Promise<Problem | null> =>
  problemOf(
    await outcomeOf(api.POST('/api/archive', { body: { characterIds: [...characterIds], isArchived } }), PLACE),
  );

/** What deleting a character would remove; null where the server did not say. */
export async function fetchRemains(characterId: string): Promise<CharacterRemains | null> {
  const call = api.GET('/api/characters/{characterId}/remains', { params: { path: { characterId } } });
  const outcome = await outcomeOf(call, PLACE);
  return outcome.ok ? outcome.data.remains : null;
}

/** Deletes a character for good. @returns what went wrong, or null. */
export async function deleteForGood(characterId: string, withPacks: boolean): Promise<Problem | null> {
  const query = { packs: withPacks ? ('delete' as const) : ('keep' as const) };
  const params = { path: { characterId }, query };
  return problemOf(await outcomeOf(api.DELETE('/api/characters/{characterId}', { params }), PLACE));
}

/** Deletes a pack whose character was deleted. @returns what went wrong, or null. */
export async function deleteLeftPack(characterId: string, version: number): Promise<Problem | null> {
  const params = { path: { characterId, version } };
  const call = api.DELETE('/api/characters/{characterId}/handoffs/{version}/pack', { params });
  return problemOf(await outcomeOf(call, PLACE));
}
