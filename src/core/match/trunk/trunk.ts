import { dot, distance, subtract } from '../../math/vec3';
import { commonAncestor, isAncestor, pathBelow } from '../../rig/rig-shape';
import type { MatchContext } from '../context/context';
import { findHeads, type HeadCandidate } from './heads';
import { bell, limbTop } from '../limbs/limbs';
import { anchorSpine, trunkName } from './spine-run';
import type { TrunkFrame } from './trunk-frame';

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

const MAX_TRUNKS = 40;

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
    else if (isAncestor(body, hips, lead))
      score += isPelvisAbove(context, frame, hips, lead)
        ? LEGS_ON_SPINE
        : -0.8 * (body.depths[lead] - body.depths[hips]);
    else score -= 1.2;
    if (hips === legBranch) score += 0.6;
    if (!context.moves(hips))
      score -= legBranch >= 0 && legBranch !== hips && context.moves(legBranch) ? SKINLESS_ABOVE_PELVIS : 0.7;
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
  return (
    context.use.place &&
    parents[lead] === hips &&
    context.moves(hips) &&
    own < its &&
    distance(positions[hips], positions[lead]) > 0.02 * size
  );
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
    if (context.use.tree)
      score -= branchAt >= 0 ? OFF_BRANCH * (shift + countInPlace(context, inner.slice(branchAt + 1, cut))) : 0;
    const skinless = [...spineRun, ...neckRun].filter((bone) => !context.moves(bone)).length;
    if (context.use.tree) score -= 0.5 * skinless;
    const spine = anchorSpine(context, spineRun);
    score += spine.score + scoreChestPlace(context, frame, spineRun);
    trunks.push({
      hips,
      spineRun,
      spine: spine.bones[0],
      chest: spine.bones[1],
      upperChest: spine.bones[2],
      neckRun,
      neck: neckRun[0] ?? -1,
      head: head.bone,
      chestCertainty: spine.chestCertainty,
      score,
    });
  }
  return trunks;
}

/** What each bone costs by which the chest ends above or below the one that the arms leave from. */
const OFF_BRANCH = 1.6;

/** Bones that lie where their parent does: beside the clavicles such a one begins the neck, it is no further chest. */
const countInPlace = ({ body }: MatchContext, bones: readonly number[]): number =>
  bones.filter((bone) => body.lengths[bone] < body.size * 1e-3).length;

/**
 * The last bone of the chest starts below the shoulder joints, a neck bone above them: tells a chest from a neck that
 * carries the clavicles.
 */
function scoreChestPlace(context: MatchContext, frame: TrunkFrame, run: readonly number[]): number {
  if (!context.use.place || !frame.axis || frame.length === 0 || run.length === 0) return 0;
  const up = dot(subtract(context.body.positions[run[run.length - 1]], frame.armCentre), frame.axis) / frame.length;
  return bell(Math.max(0, up + 0.08), 0, 0.08, 3);
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
      const length =
        Math.min(distance(context.body.positions[run[0]], context.body.positions[head]), Math.max(0, risen)) /
        frame.length;
      score += bell(Math.max(0, length - NECK_SHARE), 0, 0.13, 2);
    }
  }
  return score;
}
