import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { assessFit } from '@/core/assess/assess';
import { countBlockers } from '@/core/checks/run-checks';
import { YarvoError } from '@/core/errors/yarvo-error';
import { countDoubts, initialFit } from '@/core/fit/fit';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { putBlob } from '../blobs/blob-store';
import { database } from '../database/connection';
import { defaultDefinition, defaultProfile } from '../definitions';
import { insertFit } from '../fits/fit-repository';
import { runIntake } from '../work/pool';
import { freeName, insertCharacter } from './character-repository';
import type { CharacterState } from '@/core/character/character-view';

export interface IntakeRequest {
  readonly bytes: Uint8Array;
  readonly fileName: string;
  readonly author: string;
}

/**
 * Reads a file and keeps it as a character with its first fit. All of it or nothing: a file that cannot be read leaves
 * no trace.
 * @throws {YarvoError}
 */
export async function takeIn({ bytes, fileName, author }: IntakeRequest): Promise<{ id: string; name: string }> {
  const place = plainFileName(fileName);
  if (bytes.length > MAX_FILE_BYTES) {
    throw new YarvoError({ code: 'too-large', message: `The file is larger than ${MAX_FILE_BYTES / 1024 / 1024} MB.`, place, remedy: 'Reduce its textures or split it.' });
  }
  const { rig, match, normalisation, portrait } = await runIntake({ bytes, fileName: place });
  const definition = defaultDefinition();
  const fit = initialFit(match, definition);
  const { findings } = assessFit({ rig, match, normalisation, fit, definition, profile: defaultProfile() });
  const doubts = countDoubts(fit);
  const state: CharacterState = doubts > 0 || !match.creature.isHumanoid ? 'needs a look' : 'new';
  const id = randomUUID();
  return database().transaction(async (transaction) => {
    const blobHash = await putBlob(bytes, transaction);
    const name = await freeName(nameFrom(place), transaction);
    const now = new Date();
    await insertCharacter({ id, name, fileName: place, blobHash, state, portrait, createdBy: author, createdAt: now, rig, match, normalisation }, transaction);
    await insertFit({ characterId: id, definitionId: definition.id, state: fit, doubts, blockers: countBlockers(findings), author, at: now }, transaction);
    return { id, name };
  });
}

/** The last part of whatever the client calls the file; it never reaches the file system. */
const plainFileName = (name: string): string => path.posix.basename(name.replaceAll('\\', '/')).slice(0, 200) || 'file.glb';

/** "eel-seller.glb" -> "Eel seller". */
function nameFrom(fileName: string): string {
  const words = fileName.replace(/\.[A-Za-z0-9]{1,5}$/, '').replace(/[_\-.]+/g, ' ').trim() || 'Character';
  return (words[0].toUpperCase() + words.slice(1)).slice(0, 150);
}
