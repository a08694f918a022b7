import type { MatchContext } from '../context/context';
import { strongestPart } from '../names/name-score';
import { jointMotion } from '../witness/limb-motion';
import type { LimbPath } from './limb-path';

/** A knee or elbow turns at least this far in a clip, radians, hardly about its own segment. */
const HINGE_TURN = 0.25;
const HINGE_TWIST = 0.25;
const HINGE = 0.6;
/** A bone that turns about its segment and little else is a twist bone, one that never turns an end or a prop. */
const TWIST_TURN = 0.1;
const TWIST_SHARE = 0.75;
const TWIST = -1.2;
const STILL_TURN = 0.02;
const STILL = -0.6;

/**
 * What the clips say for each pair of a path being a knee or an elbow. Asked only where no name says a part of the
 * body: names tell joints from helpers better than any walk does.
 */
export function jointEvidence(context: MatchContext, { pairs }: LimbPath): readonly number[] {
  const isSilent = context.names.bones.every((reading) => strongestPart(reading) === null);
  const witness = isSilent ? context.witness() : null;
  if (!witness) return pairs.map(() => 0);
  const { parents, children } = context.body;
  return pairs.map((pair, at) => {
    const sides = ([0, 1] as const).map((side) => {
      const above = parents[pair[side]];
      const to = pairs[at + 1]?.[side] ?? children[pair[side]][0] ?? -1;
      return above < 0 || to < 0 ? null : jointMotion(witness, above, pair[side], to);
    });
    const [a, b] = sides;
    if (!a || !b) return 0;
    const [most, twist] = [Math.max(a.most, b.most), (a.twist + b.twist) / 2];
    if (most > HINGE_TURN && twist < HINGE_TWIST) return HINGE;
    if (most > TWIST_TURN && twist > TWIST_SHARE) return TWIST;
    return most < STILL_TURN ? STILL : 0;
  });
}
