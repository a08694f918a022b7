import type { Definition } from '@/core/definition/definition';
import type { CarrySubject } from '@/core/drill/carry-subject';
import type { Geometry } from '@/core/geometry/geometry';
import { readGeometry } from '@/document/read-geometry';
import { readCarryCharacter } from './carry';
import type { CanonicalReading } from './read-files';

/** A character that motions are judged on, matched and aligned by itself; without a mesh its geometry is null. */
export function readDrillCharacter(
  reading: CanonicalReading,
  definition: Definition,
  place: string,
): CarrySubject & { readonly geometry: Geometry | null } {
  const { target, carrying } = readCarryCharacter(reading, definition, place);
  const { rig, document } = reading;
  return { target, carrying, geometry: rig.mesh.vertexCount > 0 ? readGeometry(document, rig, place) : null };
}
