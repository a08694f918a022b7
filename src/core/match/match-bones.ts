import type { Definition } from '../definition/definition';
import { mirrorRole, roleOf, segmentsOf } from '../definition/definition';
import { shippedDialect, withSideMarks } from '../dialect/dialect';
import type { Dialect } from '../dialect/dialect';
import { cross, normalise, type Vec3 } from '../math/vec3';
import type { MotionTracks } from '../clips/motion-tracks';
import { topBoneAbove } from '../rig/bone-tree';
import { isAncestor } from '../rig/rig-shape';
import type { Rig } from '../rig/rig';
import { PROPOSED_THRESHOLD, rankParts, type PartCandidate, type PartKey } from './verdict/confidence';
import { createContext, type EvidenceSwitches, type MatchContext } from './context/context';
import { judgeCreature } from './verdict/creature';
import { matchDigits, type DigitMatch } from './digits/digits';
import { describeEvidence } from './verdict/evidence';
import type { Sided } from './limbs/limbs';
import { lineFitsOf } from './verdict/line-fits';
import type { Match, RoleMatch } from './context/match-types';
import { orientBody, type Orientation } from './body/orientation';
import { areChance, mayBeChance } from './verdict/noise';
import { searchBody, type BodyHypothesis, type SearchResult } from './body/search';
import { findFace, findToes, type SmallPart } from './spares/small-parts';
import { witnessSource } from './witness/motion-witness';
import { explainSpares } from './spares/spares';

export interface MatchOptions {
  readonly dialect?: Dialect;
  /** Kinds of evidence to leave out, for measuring what each is worth. */
  readonly use?: Partial<EvidenceSwitches>;
  /** File axis that the body faces, where a person said so. */
  readonly facing?: Vec3;
  /** What the file's clips do: evidence for joints, for what hangs on what, and for the front. */
  readonly motion?: MotionTracks | null;
  /** The rig's marks for left and right, where a person said so; in place of those that the dialect knows. */
  readonly sideMarks?: { readonly left: string; readonly right: string } | null;
}

/** A bone for a role before it is written down: who, how sure, who else. */
interface Draft {
  readonly bone: number;
  readonly confidence: number;
  readonly runnersUp: readonly { bone: number; confidence: number }[];
}

/**
 * First pass: every role of the definition that has a bone, with confidence, evidence and runners-up; spares with their
 * kinds; the body's axes; whether it is a humanoid at all. Deterministic; file space throughout.
 */
export function matchBones(rig: Rig, definition: Definition, options: MatchOptions = {}): Match {
  const { context, result, areNamesAside } = searchWithNames(rig, options);
  const best = result.hypotheses[0];
  const judged = judgeCreature(context, best, result);
  const creature = areNamesAside ? { ...judged, reasons: [...judged.reasons, NAMES_ASIDE] } : judged;
  const digits = best && best.arms.end[0] >= 0 ? matchDigits(context, best.arms.end) : [];
  const orientation = best ? orientBody(context, best, digits) : null;
  const drafts =
    best && orientation ? draftRoles(context, result.hypotheses, best, digits, orientation) : new Map<string, Draft>();
  const trust = (creature.isHumanoid ? 1 : 0.5) * (context.isGuessed ? GUESSED_TREE : 1);
  const assignments = writeAssignments(context, definition, drafts, trust);
  const lines = lineFitsOf(
    context.shape,
    definition,
    new Map(Object.values(assignments).map((match) => [match.role, match.boneIndex])),
  );
  const roleBones = new Map(Object.values(assignments).map((match) => [match.boneIndex, match.role]));
  const members = new Set(lines.flatMap((line) => line.bones).filter((bone) => !roleBones.has(bone)));
  const hips = assignments.hips?.boneIndex;
  const rootBone = hips === undefined ? -1 : (topBoneAbove(context.shape.parents, hips) ?? -1);
  return {
    creature,
    // What is no figure stands as its file says: a trunk is no upright on four legs.
    frame:
      orientation && creature.isHumanoid
        ? {
            up: orientation.up,
            facing: orientation.facing,
            left: orientation.left,
            confidence: orientation.confidence,
            namesAreSwapped: orientation.namesAreSwapped,
            reasons: [...orientation.reasons],
          }
        : fileFrame(context),
    assignments,
    lines,
    spares: explainSpares(context, roleBones, members, rootBone, (role) => roleOf(definition, role).label),
    rootBone,
    prefixLengths: [...context.names.prefixLengths],
    partners: partnersOf(context, assignments, definition),
    search: { examined: result.examined, possible: result.possible },
  } as Match;
}

/** What is left of the confidence where places alone had to tell what hangs on what. */
const GUESSED_TREE = 0.72;

const NAMES_ASIDE = 'the few names that say a part of the body say it of bones that are none; names were left aside';

/** The search, and where few names mean something, whether the body bears them out; if not, the search without them. */
function searchWithNames(
  rig: Rig,
  options: MatchOptions,
): { context: MatchContext; result: SearchResult; areNamesAside: boolean } {
  const dialect = withSideMarks(options.dialect ?? shippedDialect(), options.sideMarks ?? null);
  const witness = witnessSource(rig, options.motion ?? null);
  const { context, result } = searchFromStarts((start) =>
    createContext(rig, dialect, { use: options.use, givenFront: options.facing, start, witness }),
  );
  if (mayBeChance(context, result.hypotheses[0])) {
    const { context: silent, result: shown } = searchFromStarts((start) =>
      createContext(rig, dialect, {
        use: { ...options.use, names: false },
        givenFront: options.facing,
        start,
        witness,
      }),
    );
    if (shown.hypotheses.length > 0 && areChance(context, shown.hypotheses[0]))
      return { context: silent, result: shown, areNamesAside: true };
  }
  return { context, result, areNamesAside: false };
}

/** By so much a body grown from elsewhere must outdo the one from the likeliest bone. */
const CLEARLY_BETTER = 1.5;
/** What it is worth that the body is a figure at all. */
const IS_FIGURE = 3;

/** The search; a rig without a tree and without names is grown from several bones, and the likeliest body decides. */
function searchFromStarts(contextFrom: (start: number | null) => MatchContext): Searched {
  const from = (start: number | null): Searched => {
    const context = contextFrom(start);
    return { context, result: searchBody(context) };
  };
  const first = from(null);
  const others = first.context.growthStarts.slice(1);
  if (others.length === 0) return first;
  let [best, most] = [first, worthOf(first) + CLEARLY_BETTER];
  for (const start of others) {
    const searched = from(start);
    const worth = worthOf(searched);
    if (worth > most) [best, most] = [searched, worth];
  }
  return best;
}

interface Searched {
  readonly context: MatchContext;
  readonly result: SearchResult;
}

function worthOf({ context, result }: Searched): number {
  const [best] = result.hypotheses;
  return best ? best.score + (judgeCreature(context, best, result).isHumanoid ? IS_FIGURE : 0) : -Infinity;
}

function fileFrame(context: MatchContext): Match['frame'] {
  const up = context.fileUp;
  const facing: Vec3 = context.fileFront ?? [0, 0, 1];
  return {
    up,
    facing,
    left: normalise(cross(up, facing)) as Vec3,
    confidence: 0,
    namesAreSwapped: false,
    reasons: ["no figure was found; the file's own axes are used"],
  };
}

function draftRoles(
  context: MatchContext,
  hypotheses: readonly BodyHypothesis[],
  best: BodyHypothesis,
  digits: readonly DigitMatch[],
  orientation: Orientation,
): Map<string, Draft> {
  const drafts = new Map<string, Draft>();
  const parts = rankParts(hypotheses);
  const put = (
    role: string,
    bones: Sided,
    side: 0 | 1,
    confidence: number,
    runnersUp: readonly { bones: Sided; confidence: number }[],
  ) => {
    if (bones[side] < 0) return;
    const others = runnersUp.filter((other) => other.bones[side] >= 0 && other.bones[side] !== bones[side]).slice(0, 3);
    drafts.set(role, {
      bone: bones[side],
      confidence,
      runnersUp: others.map((other) => ({ bone: other.bones[side], confidence: other.confidence })),
    });
  };
  const centre = (part: PartKey) => {
    const [chosen, ...others] = parts.get(part) ?? [];
    if (chosen) put(part, chosen.bones, 0, chosen.probability, asRunners(others));
  };
  (['hips', 'spine', 'chest', 'upperChest', 'neck', 'head'] as const).forEach(centre);
  const sided = (part: PartKey, leftOf: 0 | 1) => {
    const [chosen, ...others] = parts.get(part) ?? [];
    if (chosen) putBothSides(part, chosen.bones, leftOf, chosen.probability, asRunners(others));
  };
  const putBothSides = (
    part: string,
    bones: Sided,
    leftOf: 0 | 1,
    confidence: number,
    runnersUp: readonly { bones: Sided; confidence: number }[],
  ) => {
    const sure = confidence * orientation.confidence;
    put(`left${part}`, bones, leftOf, sure, runnersUp);
    put(`right${part}`, bones, leftOf === 0 ? 1 : 0, sure, runnersUp);
  };
  (['UpperLeg', 'LowerLeg', 'Foot'] as const).forEach((part) => sided(part, orientation.leftOfLegs));
  (['Shoulder', 'UpperArm', 'LowerArm', 'Hand'] as const).forEach((part) => sided(part, orientation.leftOfArms));

  const chest = drafts.get('chest');
  if (chest) drafts.set('chest', { ...chest, confidence: chest.confidence * best.trunk.chestCertainty });
  const toes = findToes(context, best.legs);
  const foot = drafts.get('leftFoot')?.confidence ?? 0;
  if (toes)
    putBothSides(
      'Toes',
      alignSides(context, toes.bones, best.legs.end),
      orientation.leftOfLegs,
      toes.confidence * Math.min(1, foot / Math.max(orientation.confidence, 1e-6)),
      toes.runnersUp,
    );
  const face = findFace(context, best.trunk.head, orientation.facing);
  if (face.jaw) put('jaw', face.jaw.bones, 0, face.jaw.confidence, face.jaw.runnersUp);
  if (face.eyes) putEyes(context, face.eyes, orientation, putBothSides);
  for (const digit of digits) {
    segmentsOf(digit.digit)
      .slice(0, digit.segments.length)
      .forEach((segment, at) => {
        const certainty = at > 0 && at === digit.segments.length - 1 ? digit.lastCertainty : 1;
        putBothSides(
          digit.digit + segment,
          digit.segments[at],
          orientation.leftOfArms,
          digit.confidence * certainty * (parts.get('Hand')?.[0]?.probability ?? 1),
          [],
        );
      });
  }
  return drafts;
}

function putEyes(
  context: MatchContext,
  eyes: SmallPart,
  orientation: Orientation,
  putBothSides: (
    part: string,
    bones: Sided,
    leftOf: 0 | 1,
    confidence: number,
    runnersUp: readonly { bones: Sided; confidence: number }[],
  ) => void,
): void {
  const { lateral, normal } = context.mirror;
  const sign = orientation.left[0] * normal[0] + orientation.left[1] * normal[1] + orientation.left[2] * normal[2];
  const leftOf = lateral[eyes.bones[0]] * sign >= lateral[eyes.bones[1]] * sign ? 0 : 1;
  putBothSides('Eye', eyes.bones, leftOf, eyes.confidence, eyes.runnersUp);
}

/** Puts a pair the same way round as the limb it belongs to. */
function alignSides(context: MatchContext, bones: Sided, limb: Sided): Sided {
  const below = (bone: number, top: number) => bone >= 0 && (bone === top || isAncestor(context.body, top, bone));
  return below(bones[0], limb[1]) || below(bones[1], limb[0]) ? [bones[1], bones[0]] : bones;
}

/** A part's other answers; what comes of each side is sorted out where it is put. */
const asRunners = (ranked: readonly PartCandidate[]) =>
  ranked.map(({ bones, probability }) => ({ bones, confidence: probability }));

function writeAssignments(
  context: MatchContext,
  definition: Definition,
  drafts: ReadonlyMap<string, Draft>,
  trust: number,
): Record<string, RoleMatch> {
  const assignments: Record<string, RoleMatch> = {};
  for (const role of definition.roles) {
    const draft = drafts.get(role.id);
    if (!draft) continue;
    const parent = nearestParent(definition, role.parent, drafts);
    const confidence = Math.max(0.01, Math.min(0.995, draft.confidence * trust));
    assignments[role.id] = {
      role: role.id,
      boneIndex: draft.bone,
      confidence,
      state: confidence >= PROPOSED_THRESHOLD ? 'proposed' : 'doubtful',
      evidence: describeEvidence(context, draft.bone, parent),
      runnersUp: draft.runnersUp.map((runner) => ({
        boneIndex: runner.bone,
        confidence: Math.max(0, Math.min(0.995, runner.confidence * trust)),
        evidence: describeEvidence(context, runner.bone, parent),
      })),
    };
  }
  return assignments;
}

function nearestParent(
  definition: Definition,
  parent: string | null,
  drafts: ReadonlyMap<string, Draft>,
): { bone: number; label: string } | null {
  for (let at = parent; at; at = roleOf(definition, at).parent) {
    const draft = drafts.get(at);
    if (draft) return { bone: draft.bone, label: roleOf(definition, at).label };
  }
  return null;
}

/** Mirror partners: what the roles say where they say it, else what names and shape showed. */
function partnersOf(context: MatchContext, assignments: Record<string, RoleMatch>, definition: Definition): number[] {
  const partners = [...context.mirror.partners];
  for (const { role, boneIndex } of Object.values(assignments)) {
    const other = assignments[mirrorRole(definition, role)];
    if (other) partners[boneIndex] = other.boneIndex;
  }
  return partners;
}
