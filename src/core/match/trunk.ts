import { dot, distance, normalise, subtract, lengthOf, type Vec3 } from '../math/vec3';
import { commonAncestor, isAncestor, pathBelow } from '../rig/rig-shape';
import type { MatchContext } from './context';
import { bell, limbTop, middleOf, type Limb } from './limbs';
import { isPaired } from './mirror';
import { saysPlainly } from './name-score';

/** The centre line from hips to head, with the roles anchored in it. */
export interface Trunk {
  readonly hips: number;
  /** Bones above the hips up to and including the one the arms leave from, in order. */
  readonly spineRun: readonly number[];
  /** Bone per role; -1 for vacant. */
  readonly spine: number;
  readonly chest: number;
  readonly upperChest: number;
  /** Bones between spine run and head, in order. */
  readonly neckRun: readonly number[];
  readonly neck: number;
  readonly head: number;
  /** How sure it is which bone of a long run is the chest; 1 for short runs. */
  readonly chestCertainty: number;
  readonly score: number;
}

export interface TrunkFrame {
  readonly legs: Limb;
  readonly arms: Limb;
  readonly legCentre: Vec3;
  readonly armCentre: Vec3;
  /** Unit vector from the legs to the arms; null when they share a place. */
  readonly axis: Vec3 | null;
  readonly length: number;
}

export function trunkFrame(context: MatchContext, legs: Limb, arms: Limb): TrunkFrame {
  const [legCentre, armCentre] = [middleOf(context, legs.upper), middleOf(context, arms.upper)];
  const along = subtract(armCentre, legCentre);
  return { legs, arms, legCentre, armCentre, axis: normalise(along), length: lengthOf(along) };
}

const MAX_HEADS = 14;
const MAX_TRUNKS = 40;
/** A vacant required place on the centre line. */
const NO_SPINE = -2.5;
const NO_HEAD = -4;

/** Finds trunks, and remembers them: they depend on where the limbs leave and on nothing that lies further out. */
export function createTrunkFinder(context: MatchContext): (frame: TrunkFrame) => readonly Trunk[] {
  const found = new Map<string, readonly Trunk[]>();
  return (frame) => {
    const key = [frame.legs.upper, limbTop(frame.arms), frame.arms.upper].join();
    const trunks = found.get(key) ?? findTrunks(context, frame);
    found.set(key, trunks);
    return trunks;
  };
}

/** All plausible trunks for a pair of legs and a pair of arms, best first. */
function findTrunks(context: MatchContext, frame: TrunkFrame): Trunk[] {
  const { body } = context;
  const legTop = limbTop(frame.legs);
  const armTop = limbTop(frame.arms);
  const legBranch = commonAncestor(body, legTop[0], legTop[1]);
  const armBranch = commonAncestor(body, armTop[0], armTop[1]);
  if (armBranch < 0) return [];
  const lead = legBranch < 0 ? armBranch : commonAncestor(body, legBranch, armBranch);
  const trunks: Trunk[] = [];
  const headCandidates = findHeads(context, frame, armBranch);
  for (const hips of findHips(context, legBranch, lead, armBranch)) {
    const hipsScore = scoreHips(context, frame, hips, lead, legBranch);
    for (const head of headCandidates) {
      const path = centrePath(context, hips, head.bone >= 0 ? head.bone : armBranch, lead);
      if (!path) continue;
      trunks.push(...runsAlong(context, frame, hips, path, head, armBranch, hipsScore));
    }
  }
  trunks.sort((x, y) => y.score - x.score || y.spineRun.length - x.spineRun.length);
  return trunks.slice(0, MAX_TRUNKS);
}

/** The bone where legs and trunk meet, what is above it, and a pelvis that stands beside the spine. */
function findHips(context: MatchContext, legBranch: number, lead: number, armBranch: number): number[] {
  const { body } = context;
  const hips = new Set<number>();
  for (let bone = lead, steps = 0; bone >= 0 && steps < 4; bone = body.parents[bone], steps++) hips.add(bone);
  if (legBranch >= 0) hips.add(legBranch);
  // Legs that leave from the spine: the hips are then anywhere between there and the arms.
  if (legBranch === lead && lead >= 0) {
    const path = pathBelow(body, lead, armBranch) ?? [];
    path.slice(0, 2).forEach((bone) => hips.add(bone));
  }
  return [...hips];
}

function scoreHips(context: MatchContext, frame: TrunkFrame, hips: number, lead: number, legBranch: number): number {
  const { body } = context;
  const away = frame.length > 0 ? distance(body.positions[hips], frame.legCentre) / frame.length : 0;
  let score = context.use.place && away > 0.5 ? context.nameScore(hips, 'hips') : trunkName(context, hips, 'hips');
  if (context.use.tree) {
    if (hips === lead) score += 1.2;
    else if (isAncestor(body, hips, lead)) score += isPelvisAbove(context, frame, hips, lead) ? LEGS_ON_SPINE : -0.8 * (body.depths[lead] - body.depths[hips]);
    else score -= 1.2;
    if (hips === legBranch) score += 0.6;
    if (!context.moves(hips)) score -= legBranch >= 0 && legBranch !== hips && context.moves(legBranch) ? SKINLESS_ABOVE_PELVIS : 0.7;
  }
  if (context.use.place && frame.length > 0) score += bell(Math.max(0, away - 0.2), 0, 0.22, 4);
  return score;
}

/** What it costs a bone that moves nothing to be the hips where the bone that carries both legs does. */
const SKINLESS_ABOVE_PELVIS = 2.4;

/** What a pelvis is worth whose legs hang on the first bone of the spine. */
const LEGS_ON_SPINE = 2;

/** A bone right above the one that leads legs and trunk, which moves vertices and lies nearer to the hip joints. */
function isPelvisAbove(context: MatchContext, { legCentre }: TrunkFrame, hips: number, lead: number): boolean {
  const { positions, parents, size } = context.body;
  const [own, its] = [distance(positions[hips], legCentre), distance(positions[lead], legCentre)];
  return context.use.place && parents[lead] === hips && context.moves(hips) && own < its && distance(positions[hips], positions[lead]) > 0.02 * size;
}

/** A bone called "root" that stands in the body: some rigs call their hips so, and what leads up from them. */
const ROOT_IN_TRUNK = -1;

function trunkName(context: MatchContext, bone: number, concept: 'hips' | 'spine'): number {
  const { body, other } = context.names.bones[bone];
  const saysRootOnly = other.root !== undefined && Object.keys(other).length === 1 && Object.keys(body).length === 0;
  const score = context.nameScore(bone, concept);
  return saysRootOnly ? Math.max(score, ROOT_IN_TRUNK) : score;
}

interface HeadCandidate {
  readonly bone: number;
  readonly score: number;
}

function findHeads(context: MatchContext, frame: TrunkFrame, armBranch: number): HeadCandidate[] {
  const { body } = context;
  const heads: HeadCandidate[] = [{ bone: -1, score: NO_HEAD }];
  const tops = [...limbTop(frame.legs), ...limbTop(frame.arms)];
  for (let bone = 0; bone < body.boneCount; bone++) {
    if (!isAncestor(body, armBranch, bone) || isInLimb(context, bone, tops)) continue;
    if (isPaired(context.mirror, bone) || (offMiddle(context, frame, bone) > OFF_MIDDLE && !saysPlainly(context.names.bones[bone], 'head'))) continue;
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
function offMiddle({ body, mirror: { lateral, normal } }: MatchContext, { axis, armCentre }: TrunkFrame, bone: number): number {
  const led = axis ? dot(armCentre, normal) + dot(subtract(body.positions[bone], armCentre), axis) * dot(axis, normal) : 0;
  const straight = dot(body.positions[bone], normal);
  return Math.min(Math.abs(lateral[bone]), axis ? Math.abs(straight - led) : Infinity) / body.size;
}

function isInLimb(context: MatchContext, bone: number, tops: readonly number[]): boolean {
  for (const top of tops) if (top === bone || isAncestor(context.body, top, bone)) return true;
  return false;
}

function scoreHead(context: MatchContext, frame: TrunkFrame, bone: number, armBranch: number): number {
  const { body } = context;
  let score = context.nameScore(bone, 'head');
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
      if (above > 0 && goesStraightOn(context, frame, bone)) score -= MOVING_ABOVE;
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

/** What a pair of eyes or ears is worth to the bone that carries it, and costs a bone that hangs beside the pair. */
const PAIR_ON_HEAD = 0.8;

const hasPairBelow = ({ body, mirror }: MatchContext, bone: number): boolean => bone >= 0 && body.children[bone].some((child) => mirror.partners[child] > child);

const MOVING_ABOVE = 0.8;

/** Eyes, ears: straight below a head, or below a bone of the face that stands where the head does. */
function carriesPair(context: MatchContext, bone: number): boolean {
  const { body } = context;
  return hasPairBelow(context, bone) || body.children[bone].some((child) => body.lengths[child] < body.size * 1e-3 && hasPairBelow(context, child));
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

/** Centre bones above the hips up to and including `top`; the hips need not be their ancestor. */
function centrePath(context: MatchContext, hips: number, top: number, lead: number): number[] | null {
  const { body } = context;
  if (hips === top) return null;
  const direct = pathBelow(body, hips, top);
  if (direct) return direct;
  // A pelvis beside the spine: the run starts below the bone that leads both.
  const aside = pathBelow(body, lead, top);
  return aside?.filter((bone) => bone !== hips) ?? null;
}

function runsAlong(
  context: MatchContext,
  frame: TrunkFrame,
  hips: number,
  path: readonly number[],
  head: HeadCandidate,
  armBranch: number,
  hipsScore: number,
): Trunk[] {
  const inner = head.bone >= 0 ? path.slice(0, -1) : path;
  const branchAt = inner.indexOf(armBranch);
  const trunks: Trunk[] = [];
  for (let cut = 0; cut <= inner.length; cut++) {
    const shift = Math.abs(cut - 1 - branchAt);
    if (shift > 2) continue;
    const spineRun = inner.slice(0, cut);
    const neckRun = inner.slice(cut);
    let score = hipsScore + head.score + scoreNeckRun(context, frame, neckRun, head.bone);
    if (context.use.tree) score -= branchAt >= 0 ? OFF_BRANCH * (shift + countInPlace(context, inner.slice(branchAt + 1, cut))) : 0;
    const skinless = [...spineRun, ...neckRun].filter((bone) => !context.moves(bone)).length;
    if (context.use.tree) score -= 0.5 * skinless;
    const spine = anchorSpine(context, spineRun);
    score += spine.score + scoreChestPlace(context, frame, spineRun);
    trunks.push({ hips, spineRun, spine: spine.bones[0], chest: spine.bones[1], upperChest: spine.bones[2], neckRun, neck: neckRun[0] ?? -1, head: head.bone, chestCertainty: spine.chestCertainty, score });
  }
  return trunks;
}

/** What each bone costs by which the chest ends above or below the one that the arms leave from. */
const OFF_BRANCH = 1.6;

/** Bones that lie where their parent does: beside the clavicles such a one begins the neck, it is no further chest. */
const countInPlace = ({ body }: MatchContext, bones: readonly number[]): number => bones.filter((bone) => body.lengths[bone] < body.size * 1e-3).length;

/**
 * The last bone of the chest starts below the shoulder joints, a neck bone above them: tells a chest from a neck that
 * carries the clavicles.
 */
function scoreChestPlace(context: MatchContext, frame: TrunkFrame, run: readonly number[]): number {
  if (!context.use.place || !frame.axis || frame.length === 0 || run.length === 0) return 0;
  const up = dot(subtract(context.body.positions[run[run.length - 1]], frame.armCentre), frame.axis) / frame.length;
  return bell(Math.max(0, up + 0.08), 0, 0.08, 3);
}

/** Skin weight of the heaviest bone between the arms and a head candidate (its parent where there is none), and of the heaviest in the single run above it. */
function neighbourWeights(context: MatchContext, bone: number, armBranch: number): { below: number; above: number } {
  const { body, rig } = context;
  const weightOf = (at: number) => rig.bones[at].skinWeight;
  let below = weightOf(body.parents[bone]);
  for (let at = body.parents[bone]; at >= 0 && at !== armBranch; at = body.parents[at]) below = Math.max(below, weightOf(at));
  let above = 0;
  for (let run = body.children[bone]; run.length === 1; run = body.children[run[0]]) above = Math.max(above, weightOf(run[0]));
  return { below, above };
}

/** From the neck's first joint to the head, as a share of the trunk; what is longer is a head and its end bone. */
const NECK_SHARE = 0.2;

function scoreNeckRun(context: MatchContext, frame: TrunkFrame, run: readonly number[], head: number): number {
  let score = [-1, 0, -0.5, -1.1][run.length] ?? -2.5;
  run.forEach((bone, at) => {
    const name = context.nameScore(bone, 'neck');
    score += at === 0 ? name : name > 0 ? name * 0.5 : name * 0.3;
  });
  if (context.use.place && frame.axis && frame.length > 0 && run.length > 0) {
    const up = dot(subtract(context.body.positions[run[0]], frame.armCentre), frame.axis) / frame.length;
    score += bell(up, 0.15, 0.25, 2);
    if (head >= 0) {
      // A neck may begin inside the chest; as long as a head hardly rises above the shoulders, it is a neck all the same.
      const risen = dot(subtract(context.body.positions[head], frame.armCentre), frame.axis);
      const length = Math.min(distance(context.body.positions[run[0]], context.body.positions[head]), Math.max(0, risen)) / frame.length;
      score += bell(Math.max(0, length - NECK_SHARE), 0, 0.13, 2);
    }
  }
  return score;
}

interface SpineAnchors {
  readonly bones: readonly [spine: number, chest: number, upperChest: number];
  readonly chestCertainty: number;
  readonly score: number;
}

/** In a run of four or more the chest is expected this far up: nearer the ribs than the belt. */
export const CHEST_SHARE = 0.58;

/**
 * Which bones of the run are spine, chest and upper chest. One to three fill from the bottom up; longer runs keep the
 * first and the last and put the chest where its name or the middle of the run says.
 */
export function anchorSpine(context: MatchContext, run: readonly number[]): SpineAnchors {
  if (run.length === 0) return { bones: [-1, -1, -1], chestCertainty: 1, score: NO_SPINE };
  const whole = anchorRun(context, run);
  const skipped = run.findIndex((bone) => spineName(context, bone, 0) >= 0);
  if (skipped < 1) return whole;
  const named = anchorRun(context, run.slice(skipped));
  const score = named.score - ABOVE_HIPS * skipped;
  return score > whole.score ? { ...named, score } : whole;
}

/** What each bone costs that stands between the hips and the first bone called a spine. */
const ABOVE_HIPS = 0.8;

function anchorRun(context: MatchContext, run: readonly number[]): SpineAnchors {
  const first = spineName(context, run[0], 0);
  if (run.length === 1) return { bones: [run[0], -1, -1], chestCertainty: 1, score: first };
  if (run.length === 2) return { bones: [run[0], run[1], -1], chestCertainty: 1, score: first + spineName(context, run[1], 1) };
  const last = run.length - 1;
  const options = run.slice(1, last).map((bone, at) => ({ bone, score: spineName(context, bone, 1) - Math.abs((at + 1) / last - CHEST_SHARE) * 8 }));
  options.sort((a, b) => b.score - a.score);
  const weights = options.map((option) => Math.exp(option.score - options[0].score));
  const lengthCost = -0.25 * (run.length - 3);
  return {
    bones: [run[0], options[0].bone, run[last]],
    chestCertainty: 1 / weights.reduce((sum, weight) => sum + weight, 0),
    score: first + spineName(context, options[0].bone, 1) + spineName(context, run[last], 2) + lengthCost,
  };
}

/** "spine" and "chest" are used for one another: a lesser word for the place still counts. */
function spineName(context: MatchContext, bone: number, place: 0 | 1 | 2): number {
  const [spine, chest] = [trunkName(context, bone, 'spine'), context.nameScore(bone, 'chest')];
  if (place === 0) return Math.max(spine, chest > 0 ? chest * 0.4 : spine);
  if (spine > 0 && chest <= 0) return spine * 0.65;
  const isUpper = context.names.bones[bone].modifier === 'upper';
  return chest > 0 ? chest * (isUpper === (place === 2) ? 1 : 0.8) : chest;
}
