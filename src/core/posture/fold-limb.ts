import { conjugate, fromAxisAngle, multiply, rotate, shortestArc, type Quat } from '../math/quat';
import { decompose, translationOf } from '../math/mat4';
import { distance, subtract, type Vec3 } from '../math/vec3';
import { computeCarriers, computeWorlds, turnedLocalRotation, type RigPose } from '../rig/pose';
import type { AlignInput } from './align-order';
import { ankleHeight, liftHips } from './lift-hips';
import { endRole, limbHinges, LIMBS, lowerRole, upperRole, type Limb, type LimbHinge } from './hinges';
import { STRAIGHT_RAD } from './role-frames';

/**
 * Folds a limb about its hinge until its end joint is so far from its root joint, on the line that both lie on now; the
 * hand or foot keeps its orientation. Closed form; law of cosines.
 *
 * @param length wanted distance of the end joint from the root joint, file units; held to what the segments allow.
 */
export function foldLimb(input: AlignInput, pose: RigPose, { limb, hinge }: LimbHinge, length: number): RigPose {
  const { rig, roleBones } = input;
  const bones = [upperRole(limb), lowerRole(limb), endRole(limb)].map((role) => roleBones.get(role));
  const [upper, lower, end] = bones;
  if (upper === undefined || lower === undefined || end === undefined) return pose;
  const carriers = computeCarriers(rig);
  const toBody = input.normalisation.rotation as Quat;
  const rotations: Record<string, Quat> = { ...pose.rotations };
  const worldsNow = () => computeWorlds(rig, { rotations, shift: pose.shift }, carriers);
  const before = worldsNow();
  const [root, joint, tip] = [upper, lower, end].map((bone) => translationOf(before[bone]));
  const [a, b] = [distance(root, joint), distance(joint, tip)];
  const wanted = Math.max(Math.abs(a - b) + 1e-9, Math.min(a + b - 1e-12, length));
  const foldFor = (far: number): number => {
    const cosine = (a * a + b * b - far * far) / (2 * a * b);
    return Math.PI - Math.atan2(Math.sqrt(Math.max(0, 1 - cosine * cosine)), cosine);
  };
  const axis = rotate(conjugate(toBody), hinge);
  const fold = foldFor(wanted) - foldFor(Math.min(a + b - 1e-12, distance(root, tip)));
  rotations[lower] = turnedLocalRotation(rig, before, carriers, lower, fromAxisAngle(axis, fold));
  const folded = worldsNow();
  const back = shortestArc(subtract(translationOf(folded[end]), root), subtract(tip, root));
  rotations[upper] = turnedLocalRotation(rig, folded, carriers, upper, back);
  const aimed = worldsNow();
  const keep = multiply(decompose(before[end]).rotation, conjugate(decompose(aimed[end]).rotation));
  rotations[end] = turnedLocalRotation(rig, aimed, carriers, end, keep);
  return { rotations, shift: pose.shift };
}

/**
 * Gives straight elbows and knees the definition's small bend, hands and feet as they were turned, the ankles at the
 * height at which they stood.
 * @param others worlds of other poses of the file, which may show a hinge.
 */
export function bendStraightLimbs(
  input: AlignInput,
  pose: RigPose,
  others: readonly (readonly (readonly number[])[])[] = [],
): RigPose {
  const { elbowRad, kneeRad } = input.definition.smallBend;
  let bent = pose;
  for (const limb of LIMBS) {
    const bend = limb.part === 'Arm' ? elbowRad : kneeRad;
    const found = limbHinges(input, bent, others).find(
      ({ limb: each }) => each.side === limb.side && each.part === limb.part,
    );
    if (bend === 0 || !found || Math.abs(found.bendRad) >= STRAIGHT_RAD) continue;
    bent = foldLimb(input, bent, found, lengthAtFold(input, bent, limb, bend));
  }
  const [before, after] = [pose, bent].map((each) => ankleHeight(input, computeWorlds(input.rig, each)));
  return before === null || after === null ? bent : liftHips(input, bent, before - after);
}

/** Distance of the ends of a limb that is folded so far, file units. */
function lengthAtFold({ rig, roleBones }: AlignInput, pose: RigPose, limb: Limb, foldRad: number): number {
  const worlds = computeWorlds(rig, pose);
  const [root, joint, tip] = [upperRole(limb), lowerRole(limb), endRole(limb)].map((role): Vec3 => {
    return translationOf(worlds[roleBones.get(role) ?? 0]);
  });
  const [a, b] = [distance(root, joint), distance(joint, tip)];
  return Math.sqrt(a * a + b * b + 2 * a * b * Math.cos(foldRad));
}
