import { describe, expect, test } from 'vitest';
import type { YarvoError } from '../errors/yarvo-error';
import { QUAY, QUAY_A45 } from '../definition/quay';
import { angleOf, conjugate, multiply, rotate, type Quat } from '../math/quat';
import { angleBetween } from '../math/vec3';
import { decodeMotion, encodeMotion } from '../motion/motion-file';
import { slotOfRole } from '../motion/motion';
import { gaitMotion } from './gait';
import { changeGait, GAIT_SLIDERS, RUN, WALK, type GaitSettings } from './gait-settings';
import { LEG } from './house-body';
import { sampleHouse } from './house-motion';
import { HOUSE_SET } from './house-set';
import { JOINT_RANGES } from './joint-ranges';
import { jumpRatio, measureHouse } from './measure-house';
import { proofSize } from '../../../tests/helpers/proof-size';

/** Rounding of the turns to single precision adds up over the frames of a contact; metres. */
const STILL = 5e-5;

/** Measured once, inside the first test that asks: a suite is cheap to collect. */
function lazy<T>(make: () => T): () => T {
  let made: T | undefined;
  return () => (made ??= make());
}

/** Of the sample one of each sort: a gait, a turn, stairs, the ranges, what travels. */
const SAMPLE = ['idle', 'walk', 'run', 'stairs-up', 'arm-range', 'jump', 'sit'];
const ENTRIES = proofSize(
  HOUSE_SET.filter(({ id }) => SAMPLE.includes(id)),
  HOUSE_SET,
);

describe.each(ENTRIES)('$label', (entry) => {
  const house = entry.make(entry.settings);
  const measured = lazy(() => measureHouse(house));

  test('stands on its feet: no slide, no sole below the floor, legs within their reach', () => {
    const measures = measured();
    expect(measures.slideMetres).toBeLessThan(STILL);
    expect(measures.lowestSoleMetres).toBeGreaterThan(-0.005);
    expect(measures.stretch).toBeLessThan(0.9985);
  });

  test('folds no knee and no elbow the wrong way, and goes over into itself', () => {
    const measures = measured();
    expect(measures.leastKneeDegrees).toBeGreaterThan(0);
    expect(measures.leastElbowDegrees).toBeGreaterThan(-0.01);
    expect(measures.loop?.metres).toBeLessThan(1e-6);
    expect(measures.loop?.degrees).toBeLessThan(1e-4);
    // Taken over a tenth of a millisecond: what is left is the speeds' own change in that time.
    expect(measures.loop?.metresPerSecond).toBeLessThan(0.02);
    expect(measures.loop?.degreesPerSecond).toBeLessThan(2);
  });

  test('has speeds without jumps', () => {
    expect(jumpRatio(house)).toBeLessThan(0.35);
  });

  test('is told against a reference with lowered arms as well: the figure does the same', () => {
    const [t, a] = [sampleHouse(house, QUAY, 10), sampleHouse(house, QUAY_A45, 10)];
    const turnOf = (motion: typeof t, role: string, frame: number): Quat => {
      const at = (frame * motion.slots.length + slotOfRole(motion.slots, role)) * 4;
      return [...motion.rotations.subarray(at, at + 4)] as unknown as Quat;
    };
    for (const role of ['leftUpperArm', 'rightLowerArm', 'leftHand', 'rightIndexProximal', 'leftUpperLeg'])
      for (let frame = 0; frame < t.frameCount; frame += 3) {
        const directionIn = (definition: typeof QUAY) =>
          definition.roles.find(({ id }) => id === role)?.direction as [number, number, number];
        const led = rotate(turnOf(t, role, frame), directionIn(QUAY));
        expect(angleBetween(led, rotate(turnOf(a, role, frame), directionIn(QUAY_A45)))).toBeLessThan(1e-3);
      }
  });
});

describe('a walk', () => {
  test('keeps its weight over the foot that stands, and passes over it', () => {
    const measures = measureHouse(gaitMotion('Walk', WALK));
    expect(measures.balanceAsideMetres).toBe(0);
    expect(measures.balanceMiddleMetres).toBe(0);
  });

  test('turns pelvis and chest against one another, and swings each arm with the other leg', () => {
    const motion = sampleHouse(gaitMotion('Walk', { ...WALK, cycles: 1 }), QUAY);
    const turn = (role: string, frame: number): Quat => {
      const at = (frame * motion.slots.length + slotOfRole(motion.slots, role)) * 4;
      return [...motion.rotations.subarray(at, at + 4)] as unknown as Quat;
    };
    const facing = (role: string): number => rotate(turn(role, 0), [0, 0, 1])[0];
    expect(facing('hips') * facing('upperChest')).toBeLessThan(0);
    const half = Math.round((motion.frameCount - 1) / 2);
    const armAhead = (frame: number) => rotate(turn('leftUpperArm', frame), [1, 0, 0])[2];
    const legAhead = (frame: number) => rotate(turn('leftUpperLeg', frame), [0, -1, 0])[2];
    expect((armAhead(0) - armAhead(half)) * (legAhead(0) - legAhead(half))).toBeLessThan(0);
  });

  test('comes down on the heel and leaves from the toes, with both feet down between; a run leaves the floor', () => {
    const walk = gaitMotion('Walk', WALK);
    const pitch = (t: number): number => walk.at(t).legs.left.pitch;
    const stand = walk.contacts.find(({ part, from }) => part === 'leftFoot' && from >= 0);
    expect(pitch((stand?.from ?? 0) + 1e-3)).toBeLessThan(-10);
    expect(pitch((stand?.to ?? 0) - 1e-3)).toBeGreaterThan(30);
    const downAt = (house: typeof walk, t: number) =>
      house.contacts.filter(({ from, to }) => t >= from && t <= to).length;
    const moments = (house: typeof walk) =>
      Array.from({ length: 200 }, (_, at) => downAt(house, (house.seconds * (at + 0.5)) / 200));
    expect(Math.max(...moments(walk))).toBe(2);
    expect(Math.min(...moments(walk))).toBe(1);
    expect(Math.min(...moments(gaitMotion('Run', RUN)))).toBe(0);
  });

  test('goes as fast as it is told to', () => {
    for (const speed of [0.5, 1.3, 1.9]) {
      const house = gaitMotion('Walk', { ...WALK, speed });
      expect((house.at(house.seconds).hips[2] - house.at(0).hips[2]) / house.seconds).toBeCloseTo(speed, 9);
    }
  });

  test.each([WALK, RUN])('is whole with every slider at either end ($gait)', (start) => {
    // Of walk and run the one or the other end in a sample.
    for (const [at, slider] of GAIT_SLIDERS.entries())
      for (const value of proofSize(
        [at % 2 === (start === WALK ? 0 : 1) ? slider.min : slider.max],
        [slider.min, slider.max],
      )) {
        const settings: GaitSettings = { ...start, [slider.id]: value, ...(slider.id !== 'cycles' && { cycles: 1 }) };
        const house = gaitMotion(slider.id, settings);
        const measures = measureHouse(house);
        const of = `${slider.id} ${value}`;
        expect(measures.stretch, of).toBeLessThan(0.9985);
        expect(measures.leastKneeDegrees, of).toBeGreaterThan(0);
        expect(measures.slideMetres, of).toBeLessThan(STILL);
      }
  });

  test('is whole with any settings at all', () => {
    let seed = 7;
    const random = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647;
    for (let round = 0; round < proofSize(6, 25); round++) {
      const values = Object.fromEntries(
        GAIT_SLIDERS.map(({ id, min, max }) => [id, id === 'cycles' ? 1 : min + (max - min) * random()]),
      );
      const settings = {
        ...WALK,
        ...values,
        gait: random() < 0.5 ? 'walk' : 'run',
        direction: (['ahead', 'back', 'left', 'right'] as const)[Math.floor(random() * 4)],
        hands: (['none', 'left', 'right', 'both'] as const)[Math.floor(random() * 4)],
        holds: (['bag', 'rail', 'lantern'] as const)[Math.floor(random() * 3)],
      } as GaitSettings;
      const measures = measureHouse(gaitMotion('any', settings));
      const of = JSON.stringify(settings);
      expect(measures.stretch, of).toBeLessThan(0.9995);
      expect(measures.leastKneeDegrees, of).toBeGreaterThan(0);
      expect(measures.slideMetres, of).toBeLessThan(STILL);
    }
  });

  test('shortens a stride that the legs cannot make, and says so', () => {
    const house = gaitMotion('Walk', { ...WALK, stride: 3 });
    expect(house.remarks).toHaveLength(1);
    expect(house.remarks[0]).toMatch(/held to 1\.\d\d m instead of 3\.00 m: legs of 0\.86 m/);
    expect(gaitMotion('Walk', WALK).remarks).toEqual([]);
  });

  test('limps: the sore foot bears for a shorter time', () => {
    const house = gaitMotion('Walk', { ...WALK, limp: 1 });
    const bears = (part: string) =>
      house.contacts.filter((each) => each.part === part && each.from > 0).map(({ from, to }) => to - from)[0];
    expect(bears('rightFoot')).toBeLessThan(bears('leftFoot') * 0.85);
  });

  test('climbs as many steps as it makes', () => {
    const stairs = HOUSE_SET.find(({ id }) => id === 'stairs-up');
    const house = stairs?.make({ ...(stairs.settings as GaitSettings), rise: 0.2, cycles: 3 });
    expect((house?.at(house.seconds).hips[1] ?? 0) - (house?.at(0).hips[1] ?? 0)).toBeCloseTo(3 * 2 * 0.2, 9);
  });

  test('holds a lantern still against the way, whatever the body does', () => {
    const house = gaitMotion('Walk', { ...WALK, hands: 'left', holds: 'lantern', bounce: 2 });
    const heights = Array.from(
      { length: 60 },
      (_, at) => house.at((house.seconds * at) / 60).arms.left.reach?.place[1] ?? NaN,
    );
    expect(Math.max(...heights) - Math.min(...heights)).toBe(0);
  });
});

describe('full ranges', () => {
  test('reach the stated ends', () => {
    const arms = HOUSE_SET.find(({ id }) => id === 'arm-range')?.make(null);
    const elbows = Array.from(
      { length: 1200 },
      (_, at) => arms?.at(((arms?.seconds ?? 0) * at) / 1200).arms.left.elbow ?? 0,
    );
    expect(Math.max(...elbows)).toBeCloseTo(JOINT_RANGES.elbow.flex, 1);
    const legs = HOUSE_SET.find(({ id }) => id === 'leg-range')?.make(null);
    const angles = Array.from(
      { length: 2000 },
      (_, at) => legs?.at(((legs?.seconds ?? 0) * at) / 2000).legs.left.freed?.angles,
    );
    const most = (of: (each: NonNullable<(typeof angles)[number]>) => number) =>
      Math.max(...angles.flatMap((each) => (each ? [of(each)] : [])));
    expect(most(({ flex }) => flex)).toBeCloseTo(JOINT_RANGES.hip.flex, 1);
    expect(most(({ flex }) => -flex)).toBeCloseTo(JOINT_RANGES.hip.extend, 1);
    expect(most(({ knee }) => knee)).toBeCloseTo(JOINT_RANGES.knee.flex, 1);
    expect(most(({ ankle }) => -ankle)).toBeCloseTo(JOINT_RANGES.ankle.down, 1);
  });

  test('move every joint of every finger', () => {
    const house = HOUSE_SET.find(({ id }) => id === 'finger-range');
    const motion = sampleHouse(house?.make(null) ?? gaitMotion('none', WALK), QUAY, 20);
    for (const [slot, { role, line }] of motion.slots.entries()) {
      if (!/Thumb|Index|Middle|Ring|Little/.test(line)) continue;
      const above =
        role?.endsWith('Proximal') && !line.endsWith('Thumb')
          ? slotOfRole(motion.slots, `${line.startsWith('left') ? 'left' : 'right'}Hand`)
          : slot - 1;
      const turn = (at: number, frame: number): Quat =>
        [
          ...motion.rotations.subarray(
            (frame * motion.slots.length + at) * 4,
            (frame * motion.slots.length + at) * 4 + 4,
          ),
        ] as unknown as Quat;
      if (role?.endsWith('Metacarpal')) continue;
      const bends = Array.from({ length: motion.frameCount }, (_, frame) =>
        angleOf(multiply(conjugate(turn(above, frame)), turn(slot, frame))),
      );
      expect((Math.max(...bends) * 180) / Math.PI, role ?? '').toBeGreaterThan(45);
    }
  });
});

describe('settings as they are typed', () => {
  test('change what they name', () => {
    expect(changeGait(WALK, ['speed=1.6', 'hands=left'], 'walk')).toEqual({ ...WALK, speed: 1.6, hands: 'left' });
  });
  test.each([
    [['stride=0'], /stride cannot be 0/, /from 0\.1 to 5 m/],
    [['pace=3'], /no setting "pace"/, /speed, stride/],
    [['speed=fast'], /speed cannot be NaN/, /from 0\.2 to 7/],
    [['holds=cup'], /holds cannot be cup/, /bag, rail, lantern/],
  ])('%s is refused with a remedy', (changes, message, remedy) => {
    try {
      changeGait(WALK, changes, 'walk');
      expect.unreachable();
    } catch (error) {
      const { problem } = error as YarvoError;
      expect(problem.message).toMatch(message);
      expect(problem.remedy).toMatch(remedy);
    }
  });
});

test('a motion of the house set is a motion like any other: its file comes back the same', () => {
  const motion = sampleHouse(gaitMotion('Walk', WALK), QUAY);
  expect(decodeMotion(encodeMotion(motion))).toEqual(motion);
  expect(motion.legMetres).toBe(LEG);
});
