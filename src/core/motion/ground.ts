import type { ContactTrack } from './contacts';
import type { FittedRig, StandingFigure } from './fitted-rig';

/** A rest whose soles stand farther from the height of the motion's than this share of the figure stands elsewhere. */
const ELSEWHERE_SHARE = 0.25;

/** Of the frames, lowest first: where the feet stand when they stand. */
const STANDING_SHARE = 0.1;

/**
 * How much higher a clip stands than the reference posture of its rig, metres. Many files rest with the hips at the
 * origin and move above a floor at height 0: then the floor under the resting figure is not the floor of the motion. 0
 * where both stand on one floor, also where the motion leaves it.
 */
export function groundOf(
  { places }: StandingFigure,
  { roleBones, normalisation }: FittedRig,
  feet: readonly ContactTrack[],
): number {
  const lows = feet.filter(({ part }) => part.endsWith('Foot')).map((track) => lowest(track) - track.restHeight);
  if (lows.length === 0) return 0;
  const stands = Math.min(...lows);
  const ankles = ['leftFoot', 'rightFoot'].flatMap((role) => {
    const bone = roleBones.get(role);
    return bone === undefined ? [] : [places[bone][1]];
  });
  if (Math.abs(stands) < ELSEWHERE_SHARE * normalisation.heightMetres || ankles.length === 0) return 0;
  // The floor of a motion is height 0, unless that would leave the feet farther off than the rest's own floor does.
  const toFloor = -normalisation.floorMetres;
  return Math.abs(stands - toFloor) < Math.abs(stands) ? toFloor : 0;
}

function lowest({ places }: ContactTrack): number {
  const heights = Float32Array.from({ length: places.length / 3 }, (_, frame) => places[frame * 3 + 1]).sort();
  return heights[Math.floor((heights.length - 1) * STANDING_SHARE)] ?? 0;
}
