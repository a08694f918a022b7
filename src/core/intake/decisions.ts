import { z } from 'zod';
import { AXIS_NAMES } from '../frame/normalise';
import { describeMending, MendingSchema, NO_MENDING } from './mending';
import { boundedArray } from '../schema/bounded-array';
import { NO_PROVENANCE, ProvenanceSchema } from '../rig/source-facts';

const NodeIndex = z.int().nonnegative();

/** Which pose of the file counts as the figure's rest. */
const PoseSourceSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('rest') }),
  z.strictObject({ kind: z.literal('bind') }),
  z.strictObject({
    kind: z.literal('frame'),
    clip: z.int().nonnegative(),
    /** Frame of the clip, counted from 0 at its rate. */
    frame: z.int().nonnegative(),
    /** Whether that frame is taken out of the clip. */
    isDropped: z.boolean(),
  }),
]);
export type PoseSource = z.infer<typeof PoseSourceSchema>;

/** A bone of a copied skeleton, and the bone of the figure that it copies; node indices of the file as read. */
const FoldSchema = z.strictObject({ from: NodeIndex, into: NodeIndex });

/** No bone of the file and no joint that a repair made. */
export const NO_NODE = -1;

/** Names a joint that an earlier repair made. */
const MadeJoint = z
  .int()
  .max(NO_NODE - 1)
  .min(-20_000);
const RepairableNode = z.union([NodeIndex, MadeJoint]);
const RepairName = z.string().trim().min(1).max(200);

/**
 * A repair of the bones' tree; node indices of the file as read, or the negative one under which an earlier repair made
 * a joint. No bone moves in the rest pose. Names are for people: of the bones, and of the new joint.
 */
export const TreeRepairSchema = z.discriminatedUnion('kind', [
  /** The bone hangs on another one from now on. */
  z.strictObject({
    kind: z.literal('reparent'),
    node: RepairableNode,
    parent: RepairableNode,
    name: RepairName,
    parentName: RepairName,
  }),
  /** The bone goes; its weights and its children move up to its parent. */
  z.strictObject({ kind: z.literal('collapse'), node: RepairableNode, name: RepairName }),
  /** A new joint on the way from the bone's parent to the bone, `share` of the way along; `made` is how later repairs name it. */
  z.strictObject({
    kind: z.literal('insert'),
    node: RepairableNode,
    share: z.number().min(0).max(1),
    name: RepairName,
    made: MadeJoint.optional(),
  }),
]);
export type TreeRepair = z.infer<typeof TreeRepairSchema>;

const SideMark = z.string().trim().min(1).max(20);

/** What a person decided about how a file is to be understood. Kept with the fit; null and empty mean: as found. */
export const IntakeDecisionsSchema = z.strictObject({
  unitMetres: z.number().min(1e-5).max(1e5).nullable(),
  up: z.enum(AXIS_NAMES).nullable(),
  facing: z.enum(AXIS_NAMES).nullable(),
  /** Further files of the character, joined by their bones' names; paths among its files. */
  parts: boundedArray(z.string().max(300), 50),
  /** Files given later for references that led nowhere. */
  supplied: boundedArray(z.string().max(300), 500),
  leftOut: boundedArray(NodeIndex, 20_000),
  folds: boundedArray(FoldSchema, 20_000),
  pose: PoseSourceSchema,
  clipsLeftOut: boundedArray(z.int().nonnegative(), 5_000),
  /** Carried out in this order. */
  tree: boundedArray(TreeRepairSchema, 2_000),
  /** What is mended of meshes, skins, clips and pictures. */
  mending: MendingSchema,
  /** The rig's own marks for left and right in its bones' names; null: learned from the names. */
  sideMarks: z.strictObject({ left: SideMark, right: SideMark }).nullable(),
  provenance: ProvenanceSchema,
});
export type IntakeDecisions = z.infer<typeof IntakeDecisionsSchema>;

/** Decisions as they were kept: those from before a decision could be made do not hold it. */
export const KeptDecisionsSchema = z.preprocess(
  (kept) => ({ ...NO_DECISIONS, ...(kept as object | undefined) }),
  IntakeDecisionsSchema,
);

export const NO_DECISIONS: IntakeDecisions = {
  unitMetres: null,
  up: null,
  facing: null,
  parts: [],
  supplied: [],
  leftOut: [],
  folds: [],
  pose: { kind: 'rest' },
  clipsLeftOut: [],
  tree: [],
  sideMarks: null,
  mending: NO_MENDING,
  provenance: NO_PROVENANCE,
};

/** The part of the decisions that changes what is computed; provenance does not. */
export const readingPart = ({
  provenance: _provenance,
  ...rest
}: IntakeDecisions): Omit<IntakeDecisions, 'provenance'> => rest;

/** Whether two sets of decisions read a file alike. */
export const isSameReading = (a: IntakeDecisions, b: IntakeDecisions): boolean =>
  JSON.stringify(readingPart(a)) === JSON.stringify(readingPart(b));

export const isAsFound = (decisions: IntakeDecisions): boolean => isSameReading(decisions, NO_DECISIONS);

/** What changed between two sets of decisions, for the history a person reads. */
export function describeDecisions(before: IntakeDecisions, after: IntakeDecisions): string {
  const said: string[] = [];
  const differs = (key: keyof IntakeDecisions) => JSON.stringify(before[key]) !== JSON.stringify(after[key]);
  if (differs('unitMetres'))
    said.push(after.unitMetres === null ? 'unit as measured' : `unit set to ${after.unitMetres} m`);
  if (differs('up')) said.push(after.up === null ? 'up as measured' : `up set to ${after.up}`);
  if (differs('facing')) said.push(after.facing === null ? 'facing as measured' : `facing set to ${after.facing}`);
  if (differs('parts'))
    said.push(after.parts.length > before.parts.length ? 'files joined as parts' : 'parts taken off');
  if (differs('supplied')) said.push('textures supplied');
  if (differs('leftOut')) said.push(`${after.leftOut.length} extras left out`);
  if (differs('folds'))
    said.push(after.folds.length > 0 ? `${after.folds.length} copied bones folded` : 'copied bones kept apart');
  if (differs('pose')) said.push(`rest taken from ${poseText(after.pose)}`);
  if (differs('clipsLeftOut')) said.push(`${after.clipsLeftOut.length} clips left out`);
  if (differs('tree'))
    said.push(
      after.tree.length < before.tree.length
        ? 'repair of the tree taken back'
        : repairText(after.tree[after.tree.length - 1]),
    );
  if (differs('sideMarks'))
    said.push(
      after.sideMarks
        ? `side marks set to ${after.sideMarks.left} and ${after.sideMarks.right}`
        : 'side marks as learned',
    );
  if (differs('mending')) said.push(describeMending(before.mending, after.mending));
  if (differs('provenance')) said.push('source and licence edited');
  return said.join(', ') || 'intake unchanged';
}

function poseText(pose: PoseSource): string {
  if (pose.kind === 'frame')
    return `frame ${pose.frame} of clip ${pose.clip}${pose.isDropped ? ', which is dropped from it' : ''}`;
  return pose.kind === 'bind' ? 'the bind pose' : "the file's rest";
}

export function repairText(repair: TreeRepair): string {
  if (repair.kind === 'reparent') return `${repair.name} parented to ${repair.parentName}`;
  return repair.kind === 'collapse' ? `${repair.name} merged into its parent` : `${repair.name} inserted`;
}

/** An index for the next joint that a repair makes: one that none of these names. */
export function nextMade(tree: readonly TreeRepair[]): number {
  const used = tree.flatMap((repair) => [
    repair.node,
    repair.kind === 'reparent' ? repair.parent : NO_NODE,
    repair.kind === 'insert' ? (repair.made ?? NO_NODE) : NO_NODE,
  ]);
  return Math.min(NO_NODE, ...used) - 1;
}

/** The repairs without one of them, and without those that name the joint it made. */
export function withoutRepair(tree: readonly TreeRepair[], at: number): TreeRepair[] {
  const gone = new Set<number>();
  return tree.filter((repair, index) => {
    const isGone = index === at || gone.has(repair.node) || (repair.kind === 'reparent' && gone.has(repair.parent));
    if (isGone && repair.kind === 'insert' && repair.made !== undefined) gone.add(repair.made);
    return !isGone;
  });
}
