import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { houseEntry } from '@/core/house/house-set';
import { sampleHouse } from '@/core/house/house-motion';
import { MotionCarrier } from '@/core/motion/carry-frames';
import { CARRYING, NO_ROOT_TRAVEL, type Carrying } from '@/core/motion/carry-options';
import { planCarry, type CarryTarget } from '@/core/motion/carry-plan';
import { motionOfCarried } from '@/core/motion/edits/keep-carried';
import { fileSpaces } from '@/core/motion/joint-spaces';
import { JointWalk } from '@/core/motion/joint-walk';
import type { Motion } from '@/core/motion/motion';
import { decodeMotion, encodeMotion } from '@/core/motion/motion-file';
import { readCarryCharacter } from '@/pipeline/carry';
import { readSource } from '@/pipeline/read-files';

const targetOf = async (file: string): Promise<CarryTarget> => {
  const bytes = new Uint8Array(readFileSync(`demo/files/${file}`));
  return readCarryCharacter(await readSource({ path: file, bytes }, []), QUAY, file).target;
};

function carrierFor(motion: Motion, target: CarryTarget, carrying: Carrying = CARRYING): MotionCarrier {
  const spaces = fileSpaces(target);
  return new MotionCarrier(planCarry(motion, target, { carrying, travel: NO_ROOT_TRAVEL, spaces, fileSpaces: spaces }));
}

/** Joints of all bones at a frame, metres. */
function jointsAt(carrier: MotionCarrier, frame: number): Float64Array {
  const walk = new JointWalk(carrier.plan, carrier.placedBones);
  walk.walk(carrier.carry(frame, 1), 0);
  return walk.places.slice();
}

it.each(['lamplighter.glb', 'stilt-walker.glb', 'clockwork-deckhand.glb'])(
  'what %s does, adjustments and all, is a motion that it does again without them',
  async (file) => {
    const target = await targetOf(file);
    const walk = houseEntry('walk');
    const motion = sampleHouse(walk.make(walk.settings), QUAY, 30);
    const offsets = [{ id: 'o', role: 'leftUpperArm', about: 'front' as const, degrees: 25, isOn: true }];
    const adjusted = carrierFor(motion, target, { ...CARRYING, offsets });
    const kept = decodeMotion(encodeMotion(motionOfCarried(adjusted, target, motion, 'Wide walk')));
    expect(kept.name).toBe('Wide walk');
    expect(kept.contacts).toEqual(motion.contacts);
    const again = carrierFor(kept, target);
    const plain = carrierFor(motion, target);
    let [off, moved] = [0, 0];
    for (const frame of [0, 11, 40, motion.frameCount - 1]) {
      const [wanted, got, without] = [adjusted, again, plain].map((carrier) => jointsAt(carrier, frame));
      wanted.forEach((value, at) => {
        off = Math.max(off, Math.abs(value - got[at]));
        moved = Math.max(moved, Math.abs(value - without[at]));
      });
    }
    expect(off).toBeLessThan(1e-3);
    expect(moved).toBeGreaterThan(0.05);
  },
);

it('and another character does it with its own limbs', async () => {
  const [from, to] = [await targetOf('lamplighter.glb'), await targetOf('otter-stevedore.glb')];
  const reach = houseEntry('reach');
  const motion = sampleHouse(reach.make(null), QUAY, 20);
  const kept = motionOfCarried(carrierFor(motion, from), from, motion, 'Reach');
  const hand = to.roleBones.get('leftHand') as number;
  const elbow = to.roleBones.get('leftLowerArm') as number;
  const along = (of: Motion, frame: number): number[] => {
    const joints = jointsAt(carrierFor(of, to), frame);
    return [0, 1, 2].map((k) => joints[hand * 3 + k] - joints[elbow * 3 + k]);
  };
  for (const frame of [10, 60, 120]) {
    const [a, b] = [along(motion, frame), along(kept, frame)];
    const length = Math.hypot(...a);
    expect(Math.hypot(...a.map((value, k) => value - b[k])) / length).toBeLessThan(0.01);
  }
});
