import type { Drilled } from '@/contract/board';
import { carryMany, type CarriedCell, type Passenger } from '@/core/drill/carry-many';
import { withSoles } from '@/core/drill/carry-subject';
import { judgeMotion } from '@/core/drill/judge/judge-motion';
import { makeMotion, type MotionRecipe } from '@/core/drill/make-motion';
import { decodeGeometry } from '@/core/geometry/geometry';
import type { RootTravel } from '@/core/motion/carry-options';
import type { Motion } from '@/core/motion/motion';
import type { DrillLimits } from '@/core/profile/drill-limits';

/** A character with what its drill is judged by. */
interface DrilledPassenger extends Passenger {
  /** Its mesh as a block; null where it has none. */
  readonly geometry: Uint8Array | null;
  readonly limits: DrillLimits;
}

export interface CarryManyInput {
  readonly recipe: MotionRecipe;
  readonly travel: RootTravel;
  readonly passengers: readonly DrilledPassenger[];
}

export interface CarriedMany {
  readonly frames: number;
  readonly framesPerSecond: number;
  readonly cells: readonly CarriedCell[];
  /** What the drill found, in the order of the cells; null where nothing was carried. */
  readonly drilled: readonly (Drilled | null)[];
}

/** Makes a motion, carries it to some characters and judges what it does there. @throws {YarvoError} where it cannot be made. */
export function makeAndCarry({ recipe, travel, passengers }: CarryManyInput): CarriedMany {
  const { motion } = makeMotion(recipe);
  const { frameCount: frames, framesPerSecond } = motion;
  const standing = passengers.map((each) => withSoles(each, each.geometry && decodeGeometry(each.geometry)));
  const cells = carryMany(motion, standing, travel);
  const drilled = cells.map(({ ok }, at) => (ok ? drill(motion, standing[at], travel) : null));
  return { frames, framesPerSecond, cells, drilled };
}

/** Of a cell so many flags are kept; the rest comes up in the Drill. */
const MOST_KEPT = 5;

function drill(motion: Motion, passenger: DrilledPassenger, travel: RootTravel): Drilled {
  const { target, carrying, geometry, limits } = passenger;
  const { flags } = judgeMotion({
    ...{ motion, target, carrying, travel, limits },
    geometry: geometry && decodeGeometry(geometry),
  });
  return {
    count: flags.length,
    harm: flags[0]?.harm ?? 0,
    worst: flags
      .slice(0, MOST_KEPT)
      .map(({ measure, worstFrame: frame, sentence, harm }) => ({ measure, frame, sentence, harm })),
  };
}
