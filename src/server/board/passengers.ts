import type { Passenger } from '@/core/drill/carry-many';
import { carrySubject } from '@/core/drill/carry-subject';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { DrillLimits } from '@/core/profile/drill-limits';
import { drillLimitsOf } from '@/core/profile/profile';
import { skeletonSignature } from '@/core/rig/skeleton-signature';
import { findCharacter } from '../characters/character-repository';
import { carryStampOf } from '../fits/carry-stamp';
import { findCurrentFit } from '../fits/fit-repository';
import { yardsticksOf } from '../fits/assess-reading';
import { matchedReading } from '../matches/matched-reading';
import { blockHash } from '../readings/blocks';
import { decisionsKey } from '../readings/decisions-key';

/** A character as motion is carried to it, with what its file is kept under. */
export interface BoardedCharacter extends Passenger {
  readonly name: string;
  /** What its mesh is kept under, as a block; null where it has none. Meshes of a whole board do not fit into memory. */
  readonly geometryHash: string | null;
  readonly limits: DrillLimits;
  /** Part of a cell's stamp. */
  readonly fitStamp: string;
  readonly glbHash: string;
  /** Names its skeleton. */
  readonly signature: string;
}

/** @throws {YarvoError} `not-found`, `no-figure` */
export async function boarded(id: string): Promise<BoardedCharacter> {
  const character = await findCharacter(id);
  const fit = character && (await findCurrentFit(id));
  if (!character || !fit)
    throw new YarvoError({
      code: 'not-found',
      message: 'The character was deleted.',
      place: id,
      remedy: 'Take it out of the selection.',
    });
  const { state } = fit;
  if (!state.assignments.hips)
    throw new YarvoError({
      code: 'no-figure',
      message: 'No hips are assigned, so nothing can be carried to it.',
      place: character.name,
      remedy: 'Assign its bones on Match.',
    });
  const [reading, { definition, profile }] = await Promise.all([matchedReading(character, state), yardsticksOf(state)]);
  const subject = carrySubject(reading, definition, state);
  const { intake, basis } = state;
  const readingName = { characterId: id, decisionsKey: decisionsKey(intake), readerVersion: basis.reader };
  const geometryHash = reading.rig.mesh.vertexCount > 0 ? await blockHash(readingName, 'geometry') : null;
  return {
    id,
    name: character.name,
    fitStamp: carryStampOf(state),
    glbHash: reading.glbHash,
    signature: skeletonSignature(reading.rig),
    geometryHash,
    limits: drillLimitsOf(profile),
    // Its soles are found where its mesh is: in the worker.
    ...subject,
  };
}
