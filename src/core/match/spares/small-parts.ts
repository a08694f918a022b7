import type { BodyConcept } from '../../dialect/concepts';
import { dot, lengthOf, reject, subtract, type Vec3 } from '../../math/vec3';
import { isAncestor } from '../../rig/rig-shape';
import type { MatchContext } from '../context/context';
import { bell, type Limb, type Sided } from '../limbs/limbs';
import { saysPlainly } from '../names/name-score';

/** A part found beside the main search, with how sure it is. */
export interface SmallPart {
  readonly bones: Sided;
  readonly confidence: number;
  readonly runnersUp: readonly { bones: Sided; confidence: number }[];
}

interface Scored {
  readonly bones: Sided;
  readonly score: number;
}

/** Candidates within this are as good as one another; whichever is taken keeps this share of its confidence. */
const EQUAL = 0.2;
const ONE_OF_EQUALS = 0.6;

/** Rates candidates by a score where 0 is "as likely as not"; `slope` is fitted to the share of right answers in `bench/match`. */
function pick(candidates: readonly Scored[], slope = 1): SmallPart | null {
  const sorted = [...candidates].sort((a, b) => b.score - a.score);
  const best = sorted[0];
  if (!best || best.score < 0) return null;
  const sigmoid = (x: number) => 1 / (1 + Math.exp(-x));
  const margin = best.score - Math.max(0, sorted[1]?.score ?? 0);
  return {
    bones: best.bones,
    confidence: sigmoid(slope * (margin + 0.4)) * (sorted[1] && margin < EQUAL ? ONE_OF_EQUALS : 1),
    runnersUp: sorted
      .slice(1, 3)
      .map((entry) => ({ bones: entry.bones, confidence: 0.5 * sigmoid(entry.score - best.score) })),
  };
}

const TOES_SLOPE = 2.6;
const EYES_SLOPE = 3;

/** The joint at the ball of the foot: below the foot, ahead of it, not a digit or an end bone. */
export function findToes(context: MatchContext, legs: Limb): SmallPart | null {
  if (legs.end[0] < 0) return null;
  const { body, mirror } = context;
  const [a] = legs.end;
  const shinLength = body.lengths[a] || body.size * 0.2;
  const candidates: Scored[] = [];
  for (const child of descendants(context, a, 3)) {
    const partner = mirror.partners[child];
    const other = partner >= 0 && partner !== child && isAncestor(body, legs.end[1], partner) ? partner : -1;
    const isDirect = body.parents[child] === a;
    let score = saysFootAgain(context, a, child) ? FOOT_AGAIN : averageName(context, [child, other], 'toes');
    const out = subtract(body.positions[child], body.positions[a]);
    const shin = subtract(body.positions[a], body.positions[legs.lower[0] >= 0 ? legs.lower[0] : legs.upper[0]]);
    const across = acrossShare(out, shin);
    const share = lengthOf(out) / shinLength;
    score += across > 0.55 ? 1 : -2;
    score += share > 0.1 && share < 0.75 ? 0.8 + bell(Math.log(share), Math.log(BALL_SHARE), 0.45, 1.6) : -1.5;
    if (!context.moves(child)) score -= 2.6;
    if (!isDirect) score -= 1;
    const siblings = body.children[body.parents[child]].filter((bone) => context.moves(bone)).length;
    if (siblings > 1) score -= 0.4 * (siblings - 1);
    candidates.push({ bones: [child, other], score });
  }
  return pick(candidates, TOES_SLOPE);
}

/** What a second bone called foot is worth as the toes: "ankle" and below it "foot", or two numbered feet. */
const FOOT_AGAIN = 1.5;
/** From the ankle to the ball of the foot, as a share of the shin. */
const BALL_SHARE = 0.33;

function saysFootAgain({ names }: MatchContext, foot: number, below: number): boolean {
  return (
    saysPlainly(names.bones[foot], 'foot') &&
    saysPlainly(names.bones[below], 'foot') &&
    (names.bones[below].body.toes ?? 0) === 0
  );
}

/** How far `out` leaves the direction of `along`, 0 to 1. */
function acrossShare(out: Vec3, along: Vec3): number {
  const length = lengthOf(along);
  const total = lengthOf(out);
  if (length === 0 || total === 0) return 0;
  return lengthOf(reject(out, [along[0] / length, along[1] / length, along[2] / length])) / total;
}

function descendants(context: MatchContext, bone: number, depth: number): number[] {
  if (depth === 0) return [];
  return context.body.children[bone].flatMap((child) => [child, ...descendants(context, child, depth - 1)]);
}

function averageName(context: MatchContext, bones: Sided, concept: BodyConcept): number {
  const present = bones.filter((bone) => bone >= 0);
  return present.reduce((total, bone) => total + context.nameScore(bone, concept), 0) / present.length;
}

/** No eye lies this share of the rig's size away from the head's joint. */
const LOOKED_AT = 0.3;

/**
 * Eyes and jaw. A name says it; without one, a pair of loose bones close together in front of the head is taken for
 * eyes and a single one for the jaw, in doubt.
 */
export function findFace(
  context: MatchContext,
  head: number,
  facing: Vec3,
): { eyes: SmallPart | null; jaw: SmallPart | null } {
  if (head < 0) return { eyes: null, jaw: null };
  const { mirror, body } = context;
  const below = new Set(descendants(context, head, 3));
  const eyes: Scored[] = [];
  const jaws: Scored[] = [];
  for (const bone of below) {
    const partner = mirror.partners[bone];
    const offset = subtract(body.positions[bone], body.positions[head]);
    const ahead = context.use.place ? dot(offset, facing) / body.size : 0;
    const isLoose = body.subtreeCounts[bone] <= 2;
    const isSmall = isLoose ? 0.4 : -0.6;
    if (partner > bone && below.has(partner)) {
      const apart = Math.abs(mirror.lateral[bone] - mirror.lateral[partner]) / body.size;
      const inFace = ahead > 0.012 && apart < 0.06 && body.parents[bone] === head ? 1.4 : -0.4;
      // What eyes look at may be called after them; it stands far before the face.
      const lookedAt = context.use.place && lengthOf(offset) > LOOKED_AT * body.size ? 2 : 0;
      eyes.push({
        bones: [bone, partner],
        score: averageName(context, [bone, partner], 'eye') - 1.5 + isSmall + inFace - lookedAt,
      });
    } else if (partner === bone || partner < 0) {
      const inFace =
        ahead > 0.006 && isLoose && body.parents[bone] === head && lengthOf(offset) < 0.05 * body.size ? 1.5 : -0.4;
      jaws.push({
        bones: [bone, bone],
        score: context.nameScore(bone, 'jaw') - 1.5 + (context.moves(bone) ? 0.2 : -1.5) + inFace,
      });
    }
  }
  return { eyes: pick(eyes, EYES_SLOPE), jaw: pick(jaws) };
}
