import { distance, dot, normalise, subtract } from '../../math/vec3';
import { isAncestor } from '../../rig/rig-shape';
import type { MatchContext } from '../context/context';
import { bell, limbTop } from '../limbs/limbs';
import { isPaired } from '../mirror/mirror';
import { saysPlainly, strongestPart } from '../names/name-score';
import type { TrunkFrame } from './trunk-frame';

const MAX_HEADS = 14;
const NO_HEAD = -4;

export interface HeadCandidate {
  readonly bone: number;
  readonly score: number;
}

/** Bones that may be the head of a figure whose arms leave from `armBranch`, best first; none is among them. */
export function findHeads(context: MatchContext, frame: TrunkFrame, armBranch: number): HeadCandidate[] {
  const { body } = context;
  const heads: HeadCandidate[] = [{ bone: -1, score: NO_HEAD }];
  const tops = [...limbTop(frame.legs), ...limbTop(frame.arms)];
  for (let bone = 0; bone < body.boneCount; bone++) {
    if (!isAncestor(body, armBranch, bone) || isInLimb(context, bone, tops)) continue;
    if (
      isPaired(context.mirror, bone) ||
      (offMiddle(context, frame, bone) > OFF_MIDDLE && !saysPlainly(context.names.bones[bone], 'head'))
    )
      continue;
    heads.push({ bone, score: scoreHead(context, frame, bone, armBranch) });
  }
  // The clavicles may hang on the neck, even on the head itself.
  heads.push({ bone: armBranch, score: scoreHead(context, frame, armBranch, armBranch) - 2.5 });
  heads.sort((x, y) => y.score - x.score);
  return heads.slice(0, MAX_HEADS);
}

/** A head lies no farther off the middle than this. */
const OFF_MIDDLE = 0.06;

/** How far a bone lies off the plane of the hips, or where the trunk leans aside, off the way it leads; as a share of the rig's size. */
function offMiddle(
  { body, mirror: { lateral, normal } }: MatchContext,
  { axis, armCentre }: TrunkFrame,
  bone: number,
): number {
  const led = axis
    ? dot(armCentre, normal) + dot(subtract(body.positions[bone], armCentre), axis) * dot(axis, normal)
    : 0;
  const straight = dot(body.positions[bone], normal);
  return Math.min(Math.abs(lateral[bone]), axis ? Math.abs(straight - led) : Infinity) / body.size;
}

function isInLimb(context: MatchContext, bone: number, tops: readonly number[]): boolean {
  for (const top of tops) if (top === bone || isAncestor(context.body, top, bone)) return true;
  return false;
}

function scoreHead(context: MatchContext, frame: TrunkFrame, bone: number, armBranch: number): number {
  const { body } = context;
  let score = standsForHead(context, bone) ? 0 : context.nameScore(bone, 'head');
  if (context.use.tree) {
    if (!context.moves(bone)) score -= 2;
    if (carriesPair(context, bone)) score += PAIR_ON_HEAD;
    else if (body.parents[bone] !== armBranch && hasPairBelow(context, body.parents[bone])) score -= PAIR_ON_HEAD;
    if (context.shape.hasSkin && body.parents[bone] >= 0) {
      const { below, above } = neighbourWeights(context, bone, armBranch);
      const own = context.rig.bones[bone].skinWeight + 1;
      // A head carries more of the mesh than the neck below it, and no bone straight above it carries more than it does.
      score += Math.max(-1, Math.min(1, Math.log(own / (below + 1)) * 0.35));
      score -= Math.max(0, Math.min(1.2, Math.log((above + 1) / own) * 0.35));
      // Above a head comes a tip that moves nothing; what moves the mesh there is more likely the head itself.
      if (above > 0 && goesStraightOn(context, frame, bone) && !isDot(context, frame, body.children[bone][0]))
        score -= MOVING_ABOVE;
      if (isDot(context, frame, bone)) score -= DOT;
    }
  }
  if (context.use.place && frame.axis && frame.length > 0) {
    const up = dot(subtract(body.positions[bone], frame.armCentre), frame.axis) / frame.length;
    score += bell(up, 0.42, 0.22, 4);
    score -= Math.min(2, offMiddle(context, frame, bone) * 20);
    if (endsTooSoon(context, frame, bone)) score -= 1;
  }
  return score;
}

/** A neck that nothing goes on from, in a rig that has no bone called head: it carries the head with it. */
const standsForHead = ({ body, names, moves }: MatchContext, bone: number): boolean =>
  strongestPart(names.bones[bone]) === 'neck' &&
  body.children[bone].length === 0 &&
  moves(bone) &&
  !names.bones.some((reading) => strongestPart(reading) === 'head');

/** What a pair of eyes or ears is worth to the bone that carries it, and costs a bone that hangs beside the pair. */
const PAIR_ON_HEAD = 0.8;

const hasPairBelow = ({ body, mirror }: MatchContext, bone: number): boolean =>
  bone >= 0 && body.children[bone].some((child) => mirror.partners[child] > child);

const MOVING_ABOVE = 0.8;

/** An end bone may carry a spot of the mesh at its own place; a head carries more, and no neck is as long as this share of the trunk. */
const DOT = 1.2;
const DOT_SHARE = 0.06;
const LONG_NECK = 0.25;

function isDot({ body, rig }: MatchContext, { length }: TrunkFrame, bone: number): boolean {
  const centre = rig.bones[bone].skinCentre;
  return (
    centre !== null &&
    body.children[bone].length === 0 &&
    distance(centre, body.positions[bone]) < DOT_SHARE * length &&
    body.lengths[bone] > LONG_NECK * length
  );
}

/** Eyes, ears: straight below a head, or below a bone of the face that stands where the head does. */
function carriesPair(context: MatchContext, bone: number): boolean {
  const { body } = context;
  return (
    hasPairBelow(context, bone) ||
    body.children[bone].some((child) => body.lengths[child] < body.size * 1e-3 && hasPairBelow(context, child))
  );
}

/** A skull is longer than this share of the trunk. */
const SKULL_SHARE = 0.18;

/** True where a single chain goes on straight up and ends nearer than the top of a skull: a neck below its head. */
function endsTooSoon(context: MatchContext, frame: TrunkFrame, bone: number): boolean {
  const { body } = context;
  return body.reaches[bone] <= SKULL_SHARE * frame.length && goesStraightOn(context, frame, bone);
}

/** True where a bone has one child, further along the trunk. */
function goesStraightOn({ body }: MatchContext, { axis }: TrunkFrame, bone: number): boolean {
  const [next, ...others] = body.children[bone];
  if (next === undefined || others.length > 0 || !axis) return false;
  const on = normalise(subtract(body.positions[next], body.positions[bone]));
  return on !== null && dot(on, axis) > 0.8;
}

/** Skin weight of the heaviest bone between the arms and a head candidate (its parent where there is none), and of the heaviest in the single run above it. */
function neighbourWeights(context: MatchContext, bone: number, armBranch: number): { below: number; above: number } {
  const { body, rig } = context;
  const weightOf = (at: number) => rig.bones[at].skinWeight;
  let below = weightOf(body.parents[bone]);
  for (let at = body.parents[bone]; at >= 0 && at !== armBranch; at = body.parents[at])
    below = Math.max(below, weightOf(at));
  let above = 0;
  for (let run = body.children[bone]; run.length === 1; run = body.children[run[0]])
    above = Math.max(above, weightOf(run[0]));
  return { below, above };
}
