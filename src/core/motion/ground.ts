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
  tracks: readonly ContactTrack[],
): number {
  const ankles = (['leftFoot', 'rightFoot'] as const).flatMap((part) => {
    const bone = roleBones.get(part);
    const own = tracks.find((track) => track.part === part);
    return bone === undefined || !own ? [] : [lowest(own) - places[bone][1]];
  });
  if (ankles.length === 0) return 0;
  const stands = Math.min(...ankles);
  if (Math.abs(stands) < ELSEWHERE_SHARE * normalisation.heightMetres) return 0;
  // A motion that never comes near a floor at height 0 is no motion above another floor: it flies.
  const toFloor = -normalisation.floorMetres;
  return Math.abs(stands - toFloor) < ELSEWHERE_SHARE * normalisation.heightMetres ? stands : 0;
}

function lowest({ places }: ContactTrack): number {
  const heights = Float32Array.from({ length: places.length / 3 }, (_, frame) => places[frame * 3 + 1]).sort();
  return heights[Math.floor((heights.length - 1) * STANDING_SHARE)] ?? 0;
}
