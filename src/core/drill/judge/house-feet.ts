import type { Definition } from '../../definition/definition';
import { HOUSE_SOLES, houseTrack } from '../../ground/house-soles';
import { LEG } from '../../house/house-body';
import type { Motion } from '../../motion/motion';
import type { DrillLimits } from '../../profile/drill-limits';
import { measureFeet } from './foot-measures';
import type { Measure } from './measure';

/**
 * The same motion on the house figure, a person of usual proportions: what its feet do there as well is the motion's own
 * doing, what they do not is the character's.
 */
export const measureHouseFeet = (motion: Motion, definition: Definition, limits: DrillLimits): Measure[] =>
  measureFeet({
    motion,
    track: houseTrack(motion, definition),
    soles: HOUSE_SOLES,
    leg: LEG,
    limits,
    namesOf: () => [],
  });
