import { describe, expect, it } from 'vitest';
import { mirrorRole } from '../definition/definition';
import { QUAY } from '../definition/quay';
import { compose, decompose, invertAffine, multiply } from '../math/mat4';
import { fromAxisAngle, type Quat } from '../math/quat';
import type { Rig } from '../rig/rig';
import { makeBiped, type MadeRig } from '../../../bench/match/make-rig';
import { TUNING_HABITS } from '../../../bench/match/naming';
import { Random } from '../../../bench/match/random';
import { TUNING_TOPOLOGIES } from '../../../bench/match/topologies';
import { matchBones } from './match-bones';

const SEEDS = [101, 202, 303, 404];
const made = (seed: number): MadeRig =>
  makeBiped(new Random(seed), TUNING_TOPOLOGIES[seed % TUNING_TOPOLOGIES.length], TUNING_HABITS[seed % 6]);
const answer = (rig: Rig): Record<string, number> =>
  Object.fromEntries(Object.values(matchBones(rig, QUAY).assignments).map((match) => [match.role, match.boneIndex]));

/** The rig under another placement of its whole world. */
function placed(rig: Rig, rotation: Quat, scale: number): Rig {
  const change = compose([3 * scale, -1 * scale, 2 * scale], rotation, [scale, scale, scale]);
  const worlds = rig.bones.map((bone) =>
    compose(
      decompose(multiply(change, bone.restWorld)).translation,
      decompose(multiply(change, bone.restWorld)).rotation,
      [1, 1, 1],
    ),
  );
  return {
    ...rig,
    bones: rig.bones.map((bone, index) => {
      const local = decompose(
        bone.parent >= 0 ? multiply(invertAffine(worlds[bone.parent]) as number[], worlds[index]) : worlds[index],
      );
      return {
        ...bone,
        restWorld: worlds[index],
        rest: { translation: local.translation, rotation: local.rotation, scale: [1, 1, 1] as const },
      };
    }),
  };
}

describe('the answer changes with the rig exactly as it should', () => {
  it.each(SEEDS)('not at all when the whole rig is scaled (seed %i)', (seed) => {
    const { rig } = made(seed);
    for (const scale of [0.01, 3.7, 100]) expect(answer(placed(rig, [0, 0, 0, 1], scale))).toEqual(answer(rig));
  });

  it.each(SEEDS)('not at all when the whole rig is turned about the up axis (seed %i)', (seed) => {
    const { rig } = made(seed);
    for (const degrees of [90, 137, 180])
      expect(answer(placed(rig, fromAxisAngle([0, 1, 0], (degrees * Math.PI) / 180), 1))).toEqual(answer(rig));
  });

  it.each(SEEDS)('not at all when every name gets a prefix (seed %i)', (seed) => {
    const { rig } = made(seed);
    const prefixed = { ...rig, bones: rig.bones.map((bone) => ({ ...bone, name: `brinefold:${bone.name}` })) };
    expect(answer(prefixed)).toEqual(answer(rig));
  });

  it.each(SEEDS)('not at all when end bones are added to every leaf (seed %i)', (seed) => {
    const { rig, truth } = made(seed);
    if (!rig.bones.some((bone) => bone.skinWeight > 0)) return;
    const leaves = rig.bones.filter((bone) => !rig.bones.some((other) => other.parent === bone.index));
    const tips = leaves.map((leaf, at) => {
      const world = multiply(leaf.restWorld, compose([0, 0.01, 0], [0, 0, 0, 1], [1, 1, 1]));
      return {
        ...leaf,
        index: rig.bones.length + at,
        nodeIndex: rig.bones.length + at,
        parent: leaf.index,
        name: `${leaf.name}_end`,
        restWorld: world,
        skinWeight: 0,
        skinVertexCount: 0,
      };
    });
    const found = answer({ ...rig, bones: [...rig.bones, ...tips] });
    for (const [role, bone] of Object.entries(answer(rig))) expect(truth[found[role]], role).toBe(truth[bone]);
  });

  it.each(SEEDS)('left and right change places when the body is mirrored and the names are too (seed %i)', (seed) => {
    const { rig } = made(seed);
    const reflect = (world: readonly number[]) => compose([-world[12], world[13], world[14]], [0, 0, 0, 1], [1, 1, 1]);
    const nameless = { ...rig, bones: rig.bones.map((bone) => ({ ...bone, isNamed: false })) };
    const mirrored = {
      ...nameless,
      bones: nameless.bones.map((bone) => ({ ...bone, restWorld: reflect(bone.restWorld) })),
    };
    const [plain, turned] = [matchBones(nameless, QUAY), matchBones(mirrored, QUAY)];
    if (plain.frame.confidence < 0.97 || turned.frame.confidence < 0.97) return;
    for (const role of ['leftUpperLeg', 'leftLowerLeg', 'leftUpperArm', 'leftLowerArm', 'hips', 'head']) {
      expect(turned.assignments[mirrorRole(QUAY, role)]?.boneIndex, role).toBe(plain.assignments[role]?.boneIndex);
    }
  });

  it.each(SEEDS)('is the same every time and never gives a bone two roles (seed %i)', (seed) => {
    const { rig } = made(seed);
    const match = matchBones(rig, QUAY);
    expect(matchBones(structuredClone(rig), QUAY)).toEqual(match);
    const bones = Object.values(match.assignments).map((entry) => entry.boneIndex);
    expect(new Set(bones).size).toBe(bones.length);
    const accounted = new Set([
      ...bones,
      ...match.spares.map((spare) => spare.boneIndex),
      ...match.lines.flatMap((line) => line.bones),
      match.rootBone,
    ]);
    for (const bone of rig.bones) expect(accounted.has(bone.index), bone.name).toBe(true);
  });

  it.each(SEEDS)('keeps every confidence between 0 and 1 and names the better candidate first (seed %i)', (seed) => {
    for (const match of Object.values(matchBones(made(seed).rig, QUAY).assignments)) {
      expect(match.confidence).toBeGreaterThan(0);
      expect(match.confidence).toBeLessThan(1);
      for (const runner of match.runnersUp) expect(runner.boneIndex).not.toBe(match.boneIndex);
      expect(match.state).toBe(match.confidence >= 0.75 ? 'proposed' : 'doubtful');
      expect(match.evidence.length).toBeGreaterThan(0);
    }
  });
});
