import type { Definition } from '@/core/definition/definition';
import type { CarrySubject } from '@/core/drill/carry-subject';
import type { Geometry } from '@/core/geometry/geometry';
import type { CarryTarget } from '@/core/motion/carry-plan';
import { measureClearance, selectClearance } from '@/core/posture/clearance';
import { readGeometry } from '@/document/read-geometry';
import { readCarryCharacter } from './carry';
import type { CanonicalReading } from './read-files';

/** A character that motions are judged on, and what was decided for it by itself. */
export interface DrillCharacter extends Omit<CarrySubject, 'soles'> {
  /** Null for a character without a mesh. */
  readonly geometry: Geometry | null;
  readonly remarks: readonly string[];
}

/** Matched and aligned by itself; feet by likeness; the arms of a heavy body are held away as Posture would propose. @throws {YarvoError} */
export function readDrillCharacter(reading: CanonicalReading, definition: Definition, place: string): DrillCharacter {
  const { target, carrying } = readCarryCharacter(reading, definition, place);
  const { rig, document } = reading;
  const geometry = rig.mesh.vertexCount > 0 ? readGeometry(document, rig, place) : null;
  const armOffsetDeg = geometry && proposedOffset(target, geometry);
  const remarks = armOffsetDeg
    ? [`The arms are held away from the body, left ${armOffsetDeg.left}°, right ${armOffsetDeg.right}°.`]
    : [];
  return { target: { ...target, armOffsetDeg }, carrying: { ...carrying, grounding: 'likeness' }, geometry, remarks };
}

function proposedOffset(target: CarryTarget, geometry: Geometry): CarryTarget['armOffsetDeg'] {
  const subject = selectClearance(target, geometry);
  if (!subject) return null;
  const arms = measureClearance(target, subject, target.pose, target.normalisation.heightMetres);
  const of = (side: 'left' | 'right'): number => arms.find((arm) => arm.side === side)?.offsetDeg ?? 0;
  const offset = { left: of('left'), right: of('right') };
  return offset.left > 0 || offset.right > 0 ? offset : null;
}
