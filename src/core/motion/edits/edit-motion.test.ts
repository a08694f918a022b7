import { describe, expect, test } from 'vitest';
import { QUAY } from '../../definition/quay';
import type { YarvoError } from '../../errors/yarvo-error';
import { gaitMotion } from '../../house/gait';
import { RUN, WALK } from '../../house/gait-settings';
import { sampleHouse } from '../../house/house-motion';
import { houseEntry } from '../../house/house-set';
import { angleOf, conjugate, multiply, rotate, type Quat } from '../../math/quat';
import { slotOfRole, type Motion } from '../motion';
import { editMotion } from './edit-motion';
import { findLoops } from './find-loop';
import type { MotionEdit } from './motion-edit';
import { headingAt, poseDistance } from './placing';

const walk = sampleHouse(gaitMotion('Walk', { ...WALK, cycles: 4 }), QUAY, 30);
const run = sampleHouse(gaitMotion('Run', { ...RUN, cycles: 4 }), QUAY, 30);
const turning = sampleHouse(houseEntry('turn-left').make(null), QUAY, 30);

const edit = (motion: Motion, edits: readonly MotionEdit[], others: Record<string, Motion> = {}): Motion =>
  editMotion(motion, edits, { definition: QUAY, mostFrames: 100_000, motionOf: (id) => others[id] });

const turnOf = ({ slots, rotations }: Motion, role: string, frame: number): Quat => {
  const at = (frame * slots.length + slotOfRole(slots, role)) * 4;
  return [...rotations.subarray(at, at + 4)] as unknown as Quat;
};
const between = (a: Quat, b: Quat): number => (angleOf(multiply(conjugate(a), b)) * 180) / Math.PI;
/** Largest turn of any role, and way of the hips, from one frame to the next. */
function largestSteps(motion: Motion): { degrees: number; legs: number } {
  let [degrees, legs] = [0, 0];
  for (let frame = 1; frame < motion.frameCount; frame++) {
    for (const { role } of motion.slots)
      if (role) degrees = Math.max(degrees, between(turnOf(motion, role, frame - 1), turnOf(motion, role, frame)));
    const [a, b] = [motion.hips.subarray(frame * 3 - 3, frame * 3), motion.hips.subarray(frame * 3, frame * 3 + 3)];
    legs = Math.max(legs, Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]));
  }
  return { degrees, legs };
}

describe('trim, hold, reverse, speed and rate', () => {
  test('keep the frames that they name, and the contacts in them', () => {
    const trimmed = edit(walk, [{ kind: 'trim', from: 20, to: 60 }]);
    expect(trimmed.frameCount).toBe(41);
    expect(turnOf(trimmed, 'leftUpperLeg', 5)).toEqual(turnOf(walk, 'leftUpperLeg', 25));
    for (const { part, from, to } of trimmed.contacts)
      expect(walk.contacts.some((c) => c.part === part && c.from <= from + 20 && c.to >= to + 20)).toBe(true);
    expect(edit(walk, [{ kind: 'trim', from: 0, to: walk.frameCount - 1 }])).toEqual(walk);
  });

  test('a hold stands still for so many frames and lengthens the contact it stands in', () => {
    const { part, from, to } = walk.contacts.find((contact) => contact.from > 0 && contact.to - contact.from > 6) ?? {
      part: 'leftFoot',
      from: 0,
      to: 0,
    };
    const held = edit(walk, [{ kind: 'hold', at: from + 3, frames: 15 }]);
    expect(held.frameCount).toBe(walk.frameCount + 15);
    expect(turnOf(held, 'hips', from + 18)).toEqual(turnOf(walk, 'hips', from + 3));
    expect(held.contacts).toContainEqual({ part, from, to: to + 15 });
  });

  test('reversed twice, and mirrored twice, a motion is what it was', () => {
    const twice = edit(walk, [{ kind: 'reverse' }, { kind: 'reverse' }]);
    expect(twice.hips).toEqual(walk.hips);
    const contactsOf = (motion: Motion) => motion.contacts.map((contact) => JSON.stringify(contact)).sort();
    expect(contactsOf(twice)).toEqual(contactsOf(walk));
    const mirrored = edit(walk, [{ kind: 'mirror' }, { kind: 'mirror' }]);
    expect({ ...mirrored, hips: null }).toEqual({ ...walk, hips: null });
  });

  test('twice as fast takes half the time; another rate the same', () => {
    const fast = edit(walk, [{ kind: 'speed', factor: 2 }]);
    expect(fast.frameCount).toBe(Math.floor((walk.frameCount - 1) / 2) + 1);
    expect(fast.framesPerSecond).toBe(30);
    const dense = edit(walk, [{ kind: 'rate', framesPerSecond: 120 }]);
    expect((dense.frameCount - 1) / 120).toBeCloseTo((walk.frameCount - 1) / 30, 6);
    expect(between(turnOf(dense, 'rightLowerArm', 40), turnOf(walk, 'rightLowerArm', 10))).toBeLessThan(1e-4);
  });
});

test('the mirror image does with the right what the original does with the left', () => {
  const mirrored = edit(turning, [{ kind: 'mirror' }]);
  expect(headingAt(mirrored, 30)).toBeCloseTo(-headingAt(turning, 30), 6);
  const led = rotate(turnOf(mirrored, 'rightUpperLeg', 40), [0, -1, 0]);
  const own = rotate(turnOf(turning, 'leftUpperLeg', 40), [0, -1, 0]);
  expect(led[0]).toBeCloseTo(-own[0], 6);
  expect(led[2]).toBeCloseTo(own[2], 6);
  expect(mirrored.contacts.filter(({ part }) => part === 'leftFoot').length).toBe(
    turning.contacts.filter(({ part }) => part === 'rightFoot').length,
  );
});

describe('a loop between found contacts', () => {
  test('is found where the walk repeats itself', () => {
    const [found] = findLoops(walk);
    expect(found.unlikeDeg).toBeLessThan(0.5);
    // Of equal ones the longest: a whole number of strides.
    const stride = (walk.frameCount - 1) / 4;
    expect(Math.abs((found.to - found.from) / stride - Math.round((found.to - found.from) / stride))).toBeLessThan(
      0.05,
    );
    expect(findLoops({ ...walk, contacts: [] })).toEqual([]);
  });

  test.each([
    [40, 12],
    [0, 12],
  ])('ends as it starts, from frame %i, though the span does not', (from, blend) => {
    const spoiled = edit(walk, [{ kind: 'trim', from: 0, to: 100 }]);
    const to = from + 37;
    expect(poseDistance(spoiled, from, spoiled, to)).toBeGreaterThan(0.05);
    const loop = edit(spoiled, [{ kind: 'loop', from, to, blend }]);
    expect(loop.frameCount).toBe(to - from + 1);
    expect(poseDistance(loop, 0, loop, loop.frameCount - 1)).toBeLessThan(1e-3);
    expect(loop.hips[1]).toBeCloseTo(loop.hips[(loop.frameCount - 1) * 3 + 1], 5);
    // It still travels.
    expect(loop.hips[(loop.frameCount - 1) * 3 + 2] - loop.hips[2]).toBeGreaterThan(0.5);
  });
});

describe('one motion after another', () => {
  test('goes on from where the first is and faces, without a jump', () => {
    const joined = edit(turning, [{ kind: 'append', motionId: 'w', blend: 12, isMatching: false }], { w: walk });
    expect(joined.frameCount).toBe(turning.frameCount + walk.frameCount - 1 - 12);
    const last = joined.frameCount - 1;
    const facing = headingAt(joined, turning.frameCount - 1);
    expect(Math.abs(facing)).toBeGreaterThan(3);
    const way = [joined.hips[last * 3] - joined.hips[0], joined.hips[last * 3 + 2] - joined.hips[2]];
    expect(Math.hypot(...way)).toBeGreaterThan(3);
    // Half round: it walks back.
    expect(way[1]).toBeLessThan(-3);
    const single = Math.max(largestSteps(turning).degrees, largestSteps(walk).degrees);
    expect(largestSteps(joined).degrees).toBeLessThan(single * 1.6);
  });

  test('is joined with the same feet down where that is asked for, and stands more alike there', () => {
    const others = { r: run };
    const cutWalk = edit(walk, [{ kind: 'trim', from: 0, to: 71 }]);
    const blind = edit(cutWalk, [{ kind: 'append', motionId: 'r', blend: 8, isMatching: false }], others);
    const matched = edit(cutWalk, [{ kind: 'append', motionId: 'r', blend: 8, isMatching: true }], others);
    expect(largestSteps(matched).degrees).toBeLessThanOrEqual(largestSteps(blind).degrees + 1e-3);
    for (const { from, to } of matched.contacts) expect(to).toBeGreaterThanOrEqual(from);
    const sorted = matched.contacts.filter(({ part }) => part === 'leftFoot');
    for (const [at, contact] of sorted.entries()) if (at > 0) expect(contact.from).toBeGreaterThan(sorted[at - 1].to);
  });

  test('a motion with fewer joints goes along with what it has', () => {
    const few: Motion = {
      ...walk,
      slots: walk.slots.filter(({ role }) => role === 'hips'),
      rotations: new Float32Array(walk.frameCount * 4).map((_, at) => (at % 4 === 3 ? 1 : 0)),
    };
    const joined = edit(turning, [{ kind: 'append', motionId: 'f', blend: 5, isMatching: false }], { f: few });
    const last = joined.frameCount - 1;
    expect(between(turnOf(joined, 'head', last), turnOf(joined, 'hips', last))).toBeLessThan(1e-3);
  });
});

describe('steps that cannot be done', () => {
  test.each<[string, readonly MotionEdit[], RegExp, RegExp]>([
    ['bad-edit', [{ kind: 'trim', from: 50, to: 20 }], /no frames 50 to 20/, /0 to \d+/],
    ['bad-edit', [{ kind: 'mirror' }, { kind: 'hold', at: 9999, frames: 5 }], /no frame 9999/, /0 to/],
    ['bad-edit', [{ kind: 'loop', from: 10, to: 20, blend: 10 }], /as long as the loop/, /fewer/],
    ['bad-edit', [{ kind: 'append', motionId: 'w', blend: 500, isMatching: true }], /500 frames is longer/, /or fewer/],
    ['bad-edit', [{ kind: 'hold', at: 1, frames: 99_999 }], /would come to 1\d\d,\d+ frames/, /100,000/],
    ['other-rate', [{ kind: 'append', motionId: 'd', blend: 5, isMatching: true }], /30 frames a second.* 60/, /rate/],
    [
      'other-definition',
      [{ kind: 'append', motionId: 'o', blend: 5, isMatching: true }],
      /told against other, version 1/,
      /one definition/,
    ],
    [
      'bad-edit',
      [{ kind: 'contacts', contacts: [{ part: 'leftFoot', from: 0, to: 5000 }] }],
      /0 to 5000/,
      /set the contact anew/,
    ],
  ])('%s: %j', (code, edits, message, remedy) => {
    const others = {
      w: walk,
      d: sampleHouse(gaitMotion('Dense', WALK), QUAY, 60),
      o: { ...walk, definition: { id: 'other', version: 1 } },
    };
    try {
      edit(walk, edits, others);
      expect.unreachable();
    } catch (error) {
      const { problem } = error as YarvoError;
      expect(problem.code).toBe(code);
      expect(problem.message).toMatch(message);
      expect(problem.remedy).toMatch(remedy);
    }
  });
});
