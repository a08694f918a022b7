import type { CharacterRemains } from '@/contract/character-view';
import type { Problem } from '@/core/errors/yarvo-error';

const OFFLINE: Problem = {
  code: 'offline',
  message: 'The server did not answer.',
  place: 'roster',
  remedy: 'Check that Yarvo is running, then try again.',
};

async function problemOf(response: Response | null): Promise<Problem | null> {
  if (response?.ok) return null;
  return ((await response?.json().catch(() => null)) as { error?: Problem } | null)?.error ?? OFFLINE;
}

/** Puts characters away, or brings them back. @returns what went wrong, or null. */
export async function setArchived(characterIds: readonly string[], isArchived: boolean): Promise<Problem | null> {
  const body = JSON.stringify({ characterIds, isArchived });
  return problemOf(
    await fetch('/api/archive', { method: 'POST', headers: { 'content-type': 'application/json' }, body }).catch(
      () => null,
    ),
  );
}

/** What deleting a character would remove; null where the server did not say. */
export async function fetchRemains(id: string): Promise<CharacterRemains | null> {
  const response = await fetch(`/api/characters/${id}/remains`).catch(() => null);
  return response?.ok ? ((await response.json()) as { remains: CharacterRemains }).remains : null;
}

/** Deletes a character for good. @returns what went wrong, or null. */
export const deleteForGood = (id: string, withPacks: boolean): Promise<Problem | null> =>
  deleteAt(`/api/characters/${id}${withPacks ? '?packs=delete' : ''}`);

/** Deletes what stands at an address. @returns what went wrong, or null. */
export const deleteAt = async (address: string): Promise<Problem | null> =>
  problemOf(await fetch(address, { method: 'DELETE' }).catch(() => null));
