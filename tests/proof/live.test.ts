import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { judgeMotion } from '@/core/drill/judge/judge-motion';
import type { Geometry } from '@/core/geometry/geometry';
import { findSoles } from '@/core/ground/sole-points';
import { houseEntry } from '@/core/house/house-set';
import { sampleHouse } from '@/core/house/house-motion';
import { KeptSteps } from '@/core/live/kept-steps';
import { LiveFigure } from '@/core/live/live-figure';
import { LiveSource } from '@/core/live/live-source';
import { LiveWalker, type LiveInput } from '@/core/live/live-walker';
import { distance, type Vec3 } from '@/core/math/vec3';
import { CARRYING, NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import type { CarryTarget } from '@/core/motion/carry-plan';
import { JointWalk } from '@/core/motion/joint-walk';
import { referenceFigure } from '@/core/motion/reference-figure';
import { drillLimitsOf } from '@/core/profile/profile';
import { TIDEWATER } from '@/core/profile/shipped';
import { readGeometry } from '@/document/read-geometry';
import { readCarryCharacter } from '@/pipeline/carry';
import { readSource } from '@/pipeline/read-files';

const motionOf = (id: string) => {
  const entry = houseEntry(id);
  return sampleHouse(entry.make(entry.settings), QUAY, 60);
};
const MAP = ['idle', 'walk', 'run', 'walk-left', 'walk-right', 'walk-back'].map(motionOf);
const { slots, legMetres } = MAP[0];
const sourceOf = (motion: (typeof MAP)[number]) => new LiveSource(motion, slots);
const SOURCES = MAP.map(sourceOf);
const NODES = SOURCES.map(({ mean }, at) => ({
  key: String(at),
  side: mean[0] * legMetres,
  ahead: mean[1] * legMetres,
}));
const walker = () =>
  new LiveWalker(
    NODES,
    {
      sources: SOURCES,
      turnLeft: sourceOf(motionOf('turn-left')),
      turnRight: sourceOf(motionOf('turn-right')),
      crouch: sourceOf(motionOf('crouch')),
      jump: sourceOf(motionOf('jump')),
    },
    slots,
    1 / legMetres,
  );
const STILL: LiveInput = { side: 0, ahead: 0, turn: 0, isCrouched: false, isJumping: false };
const STEP = 1 / 60;

let figureOf: () => LiveFigure;
let target: CarryTarget;
let geometry: Geometry;
beforeAll(async () => {
  const bytes = new Uint8Array(readFileSync('demo/files/lamplighter.glb'));
  const reading = await readSource({ path: 'lamplighter.glb', bytes }, []);
  ({ target } = readCarryCharacter(reading, QUAY, 'lamplighter.glb'));
  const { standing } = referenceFigure(target, target.spares);
  geometry = readGeometry(reading.document, reading.rig, 'lamplighter.glb');
  const soles = findSoles(target, standing, geometry);
  figureOf = () => new LiveFigure(target, CARRYING, soles, slots, MAP[0]);
});

/** Walk, run, stop, to the side, back, round, crouched: each for some seconds. */
const COURSE: readonly (readonly [seconds: number, input: Partial<LiveInput>])[] = [
  [1.5, {}],
  [3, { ahead: 1.3 }],
  [3, { ahead: 3 }],
  [2, { ahead: 1.3, turn: 0.8 }],
  [2, {}],
  [3, { side: 0.45 }],
  [2, { side: -0.4, ahead: 0.4 }],
  [3, { ahead: -0.8 }],
  [3, { turn: 1.2 }],
  [2, { ahead: 0.8, isCrouched: true }],
  [1.5, {}],
];

describe('steering a character', () => {
  it('goes as fast as it is asked to, and turns as far', () => {
    const live = walker();
    let state = live.step(STEP, STILL);
    for (let at = 0; at < 300; at++) state = live.step(STEP, { ...STILL, ahead: 1.3 });
    const from = state.place;
    for (let at = 0; at < 120; at++) state = live.step(STEP, { ...STILL, ahead: 1.3 });
    expect(Math.hypot(state.place[0] - from[0], state.place[1] - from[1]) * legMetres).toBeCloseTo(2.6, 1);
    const heading = state.heading;
    for (let at = 0; at < 120; at++) state = live.step(STEP, { ...STILL, ahead: 1.3, turn: 0.5 });
    expect(state.heading - heading).toBeGreaterThan(0.85);
  });

  it('weights add up to one, and the motion that is steered at is played alone', () => {
    const live = walker();
    for (let at = 0; at < 240; at++) {
      const { weights } = live.step(STEP, { ...STILL, ahead: at < 120 ? 1.3 : 3, isCrouched: at > 180 });
      const extras = weights.slice(NODES.length).reduce((sum, weight) => sum + weight, 0);
      expect(weights.slice(0, NODES.length).reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 6);
      expect(extras).toBeLessThanOrEqual(1 + 1e-9);
    }
    let state = live.step(STEP, STILL);
    for (let at = 0; at < 300; at++) state = live.step(STEP, { ...STILL, ahead: NODES[1].ahead });
    expect(state.weights[1]).toBeGreaterThan(0.99);
  });

  it('feet slide less than 2 % of the leg in any contact of the course, and no joint jumps', () => {
    const [live, figure] = [walker(), figureOf()];
    let worst = 0;
    let [before, fastest]: [Float64Array | null, number] = [null, 0];
    for (const [seconds, change] of COURSE)
      for (let at = 0; at < seconds / STEP; at++) {
        const { feet, points } = figure.step(live.step(STEP, { ...STILL, ...change }), STEP);
        const now = Math.max(...feet.map(({ slide }) => slide));
        worst = Math.max(worst, now);
        if (before)
          for (let joint = 0; joint < points.length; joint += 3) {
            const place = (values: Float64Array): Vec3 => [values[joint], values[joint + 1], values[joint + 2]];
            fastest = Math.max(fastest, distance(place(points), place(before)) / STEP);
          }
        before = points.slice();
      }
    expect(worst).toBeLessThan(0.02);
    // A foot of a runner swings at some 8 m/s.
    expect(fastest).toBeLessThan(14);
  });

  it('is measured as it was shown: frame for frame, with the feet where they were held', () => {
    const [live, figure] = [walker(), figureOf()];
    const kept = new KeptSteps(figure, MAP[0], 60, 240);
    const hands: Vec3[] = [];
    const hand = (target.roleBones.get('leftHand') as number) * 3;
    for (let at = 0; at < 300; at++) {
      const state = live.step(STEP, { ...STILL, ahead: 1.3 });
      const shown = figure.step(state, STEP);
      kept.add(state, shown);
      hands.push([shown.points[hand], shown.points[hand + 1], shown.points[hand + 2]]);
    }
    expect(kept.count).toBe(240);
    const [motion, shown] = [kept.motion(), kept.shown()];
    expect(motion.frameCount).toBe(240);
    expect(motion.contacts.filter(({ part }) => part === 'leftFoot').length).toBeGreaterThan(2);
    const walk = new JointWalk(figure.plan, shown.placedBones);
    for (const frame of [0, 100, 239]) {
      walk.walk(shown.carry(frame, 1), 0);
      expect(distance(walk.placeOf(hand / 3), hands[60 + frame])).toBeLessThan(1e-5);
    }
    const limits = drillLimitsOf(TIDEWATER);
    const input = { target, carrying: CARRYING, motion, travel: NO_ROOT_TRAVEL, geometry, limits };
    const slideOf = (judged: ReturnType<typeof judgeMotion>): number =>
      Math.max(
        ...judged.measures
          .filter(({ name }) => name.startsWith('slide.'))
          .flatMap(({ values }) => [...values].filter((value) => !Number.isNaN(value))),
      );
    const asShown = slideOf(judgeMotion({ ...input, shown }));
    expect(asShown).toBeLessThan(2);
    // The same blend without the feet held slides further: it is no other motion that is measured.
    expect(slideOf(judgeMotion({ ...input, carrying: { ...CARRYING, grounding: 'leave' } }))).toBeGreaterThan(asShown);
  });

  it('jumps off the floor and comes back to it', () => {
    const [live, figure] = [walker(), figureOf()];
    const hips = figure.plan.hips * 3 + 1;
    const heights: number[] = [];
    for (let at = 0; at < 240; at++) {
      const state = live.step(STEP, { ...STILL, isJumping: at === 30 });
      heights.push(figure.step(state, STEP).points[hips]);
    }
    const stands = heights[20];
    expect(Math.max(...heights)).toBeGreaterThan(stands + 0.1);
    // The weight goes from foot to foot meanwhile.
    expect(Math.abs(heights[239] - stands)).toBeLessThan(0.03);
  });
});
