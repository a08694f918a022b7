import { conjugate, multiply, rotate, type Quat } from '../math/quat';
import type { CarriedFrames } from './carry-frames';
import type { CarryPlan } from './carry-plan';
import { JointWalk } from './joint-walk';

const DEGREES = 180 / Math.PI;

/**
 * A carried motion as BVH: metres, Y up, facing +Z, the reference posture as rest with all joints along the world's axes.
 * The hips lead; where a root travels it does, with the hips below it. Readers do not agree whether a position stands in
 * place of the offset or is added to it, so joints with positions have no offset. Blanks in names become underlines, since
 * many readers end a name there.
 *
 * @param blocks all frames of the motion, in order.
 */
export function writeBvh(plan: CarryPlan, placedBones: readonly number[], blocks: Iterable<CarriedFrames>): string {
  const { target, standing, motion, root } = plan;
  const { bones } = target.rig;
  const isRootAdded = root !== null && target.rootBone === null;
  const top = root === null || isRootAdded ? plan.hips : (plan.chain[0] ?? plan.hips);
  // What hangs on nothing is written below what carries it, so that one tree holds the figure.
  const parentOf = (bone: number): number => plan.loose.get(bone) ?? bones[bone].parent;
  const below = bones.map(({ index }) =>
    bones.filter((bone) => parentOf(bone.index) === index).map((bone) => bone.index),
  );
  const names = uniqueNames(bones.map(({ name }) => name));
  // What is loose stands fixed on what carries it, once it is written below that.
  const isPlaced = new Set([top, plan.hips, ...plan.moved.map(({ boneIndex }) => boneIndex)]);
  const order: number[] = [];
  const lines: string[] = ['HIERARCHY'];
  if (isRootAdded) {
    const rootName = uniqueNames([...bones.map(({ name }) => name), target.definition.root.exportName]).at(-1);
    lines.push(`ROOT ${rootName}`, '{', '\tOFFSET 0 0 0', `\tCHANNELS 6 ${PLACES} ${TURNS}`);
    // Deep trees would overflow a recursion's stack no sooner than the reader's own limit on depth.
    addJoint(top, 1, 'JOINT');
    lines.push('}');
  } else addJoint(top, 0, 'ROOT');
  lines.push(
    'MOTION',
    `Frames: ${motion.frameCount}`,
    `Frame Time: ${Number((1 / motion.framesPerSecond).toFixed(10))}`,
  );
  const walk = new JointWalk(plan, placedBones);
  for (const block of blocks)
    for (let frame = 0; frame < block.count; frame++) {
      walk.walk(block, frame);
      lines.push(frameText(block, frame));
    }
  return `${lines.join('\n')}\n`;

  function addJoint(bone: number, depth: number, word: string): void {
    const pad = '\t'.repeat(depth);
    order.push(bone);
    const isLead = bone === top || bone === plan.hips;
    const origin = isLead ? standing.places[bone] : standing.places[parentOf(bone)];
    const offset = standing.places[bone].map((value, k) => value - origin[k]);
    const channels = isPlaced.has(bone) ? `CHANNELS 6 ${PLACES} ${TURNS}` : `CHANNELS 3 ${TURNS}`;
    lines.push(`${pad}${word} ${names[bone]}`, `${pad}{`, `${pad}\tOFFSET ${numbers(offset)}`, `${pad}\t${channels}`);
    for (const child of below[bone]) addJoint(child, depth + 1, 'JOINT');
    if (below[bone].length === 0)
      lines.push(
        `${pad}\tEnd Site`,
        `${pad}\t{`,
        `${pad}\t\tOFFSET ${numbers(offset.map((value) => value * END_SHARE))}`,
        `${pad}\t}`,
      );
    lines.push(`${pad}}`);
  }

  function frameText(block: CarriedFrames, frame: number): string {
    const values: number[] = [];
    const added = isRootAdded ? Array.from(block.addedRoot.subarray(frame * 7, frame * 7 + 7)) : null;
    if (added) values.push(...added.slice(0, 3), ...eulers(added.slice(3) as unknown as Quat));
    for (const bone of order) {
      const turn = turnOf(bone);
      const above =
        bone === top ? ((added?.slice(3) as Quat | undefined) ?? ([0, 0, 0, 1] as Quat)) : turnOf(parentOf(bone));
      if (isPlaced.has(bone)) {
        const origin = bone === top ? (added ?? [0, 0, 0]) : placeOf(parentOf(bone));
        const place = placeOf(bone);
        values.push(...rotate(conjugate(above), [place[0] - origin[0], place[1] - origin[1], place[2] - origin[2]]));
      }
      values.push(...eulers(multiply(conjugate(above), turn)));
    }
    return numbers(values);
  }

  /** D of a bone: BVH joints stand along the world's axes at rest. */
  function turnOf(bone: number): Quat {
    const at = bone * 4;
    const world: Quat = [walk.rotations[at], walk.rotations[at + 1], walk.rotations[at + 2], walk.rotations[at + 3]];
    return multiply(world, conjugate(standing.rotations[bone]));
  }

  function placeOf(bone: number): number[] {
    return Array.from(walk.places.subarray(bone * 3, bone * 3 + 3));
  }
}

const PLACES = 'Xposition Yposition Zposition';
const TURNS = 'Zrotation Xrotation Yrotation';
/** The format wants a tip below each last joint; it goes on as its own bone does, so much shorter. */
const END_SHARE = 0.4;

/** Angles about z, x and y in degrees, of a turn z x y. At a right angle about x the turn about y is taken as none. */
function eulers([x, y, z, w]: Quat): [number, number, number] {
  const sine = 2 * (y * z + w * x);
  const cosine = Math.hypot(2 * (x * y - w * z), 1 - 2 * (x * x + z * z));
  const aboutX = Math.atan2(sine, cosine);
  if (cosine < 1e-7) return [Math.atan2(2 * (x * y + w * z), 1 - 2 * (y * y + z * z)) * DEGREES, aboutX * DEGREES, 0];
  return [
    Math.atan2(-2 * (x * y - w * z), 1 - 2 * (x * x + z * z)) * DEGREES,
    aboutX * DEGREES,
    Math.atan2(-2 * (x * z - w * y), 1 - 2 * (x * x + y * y)) * DEGREES,
  ];
}

const numbers = (values: readonly number[]): string =>
  values.map((value) => String(Number(value.toFixed(7)) || 0)).join(' ');

function uniqueNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const plain = name.trim().replace(/\s+/g, '_') || 'bone';
    let unique = plain;
    for (let count = 2; taken.has(unique); count++) unique = `${plain}_${count}`;
    taken.add(unique);
    return unique;
  });
}
