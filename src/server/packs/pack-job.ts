import { YarvoError } from '@/core/errors/yarvo-error';
import { findCharacter } from '../characters/character-repository';
import { STUDIO } from '../library/studio';
import type { JobQueue, JobRecord } from '../jobs/job-queue';
import type { JobHandler } from '../jobs/runner';
import { handOff } from './hand-off';

interface PackPayload {
  readonly characterId: string;
  readonly definitionId: string;
}

/** Queues a handoff under an id; one that is there already stays. @returns null for an unknown character. */
export async function queuePack(
  queue: JobQueue,
  id: string,
  characterId: string,
  author: string,
  definitionId: string = STUDIO.definition,
): Promise<JobRecord | null> {
  const character = await findCharacter(characterId);
  if (!character) return null;
  const payload: PackPayload = { characterId, definitionId };
  const label = `pack of ${character.name}`;
  // A person waits for a pack; files may come in by the hundred.
  return queue.add({ id, kind: 'pack', subject: characterId, label, author, payload, priority: 10 });
}

export const packHandler: JobHandler = {
  async work({ payload, author, label, kept, keep }) {
    // The pack was kept, and Yarvo ended before it could say so.
    if (kept !== null) return kept;
    const { characterId, definitionId } = payload as PackPayload;
    const made = await handOff(characterId, author, definitionId, keep);
    if (!made) throw gone(label);
    return made;
  },
};

const gone = (place: string): YarvoError =>
  new YarvoError({ code: 'not-found', message: 'The character was deleted.', place, remedy: 'Nothing is to be done.' });
