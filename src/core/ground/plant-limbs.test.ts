import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/vec3';
import { plantOffsets, smoothDrop, type BearingTrack } from './plant-limbs';

/** A foot of heel and ball that slides ahead by 1 mm a frame and floats 2 cm, from frame 10 to 30 of 41. */
const sliding = (change: Partial<BearingTrack> = {}): BearingTrack => ({
  frameCount: 41,
  framesPerSecond: 30,
  contacts: [{ part: 'leftFoot', from: 10, to: 30 }],
  places: Array.from({ length: 41 }, (_, frame): Vec3[] => [
    [0, 0.02 + Math.max(0, frame - 20) * 0.004, frame * 0.001],
    [0, 0.02 + Math.max(0, 20 - frame) * 0.004, 0.2 + frame * 0.001],
  ]),
  floorOf: () => 0,
  slack: 0.001,
  loops: false,
  ...change,
});
const at = (offsets: Float64Array, frame: number): Vec3 => [
  offsets[frame * 3],
  offsets[frame * 3 + 1],
  offsets[frame * 3 + 2],
];

describe('planting', () => {
  it('keeps what bears where it is, on the floor, heel first and then the ball', () => {
    const track = sliding();
    const offsets = plantOffsets(track);
    const planted = (frame: number, point: number): Vec3 => {
      const [x, y, z] = track.places[frame][point];
      const [ox, oy, oz] = at(offsets, frame);
      return [x + ox, y + oy, z + oz];
    };
    for (let frame = 11; frame <= 20; frame++) expect(planted(frame, 0)[2]).toBeCloseTo(planted(10, 0)[2], 12);
    for (let frame = 22; frame <= 30; frame++) expect(planted(frame, 1)[2]).toBeCloseTo(planted(21, 1)[2], 12);
    for (let frame = 10; frame <= 30; frame++)
      expect(Math.min(planted(frame, 0)[1], planted(frame, 1)[1])).toBeCloseTo(0, 12);
  });

  it('moves a contact as little as it can, and lets go softly', () => {
    const offsets = plantOffsets(sliding());
    let mean = 0;
    for (let frame = 10; frame <= 30; frame++) mean += at(offsets, frame)[2] / 21;
    expect(mean).toBeCloseTo(0, 12);
    expect(at(offsets, 0)).toEqual([0, 0, 0]);
    expect(Math.abs(at(offsets, 40)[1])).toBeLessThan(1e-9);
    for (let frame = 1; frame < 41; frame++)
      expect(Math.abs(at(offsets, frame)[2] - at(offsets, frame - 1)[2])).toBeLessThan(0.004);
  });

  it('stands on the floor of each contact', () => {
    const offsets = plantOffsets(
      sliding({
        floorOf: ({ height }) => height ?? 0,
        contacts: [{ part: 'leftFoot', from: 10, to: 30, height: 0.3 }],
      }),
    );
    expect(at(offsets, 20)[1]).toBeCloseTo(0.28, 12);
  });

  it('goes over into its start in a loop', () => {
    const offsets = plantOffsets(sliding({ loops: true }));
    expect(at(offsets, 40)).toEqual(at(offsets, 0));
    const [before, after] = [at(offsets, 39), at(offsets, 1)];
    for (let k = 0; k < 3; k++) expect(Math.abs(at(offsets, 0)[k] - (before[k] + after[k]) / 2)).toBeLessThan(1e-3);
  });

  it('lowers hips by no less than is needed, and smoothly', () => {
    const needs = new Float64Array(60);
    needs.fill(0.1, 25, 30);
    const drop = smoothDrop(needs, 30, false);
    needs.forEach((need, frame) => expect(drop[frame]).toBeGreaterThanOrEqual(need - 1e-12));
    expect(Math.max(...drop)).toBeCloseTo(0.1, 12);
    for (let frame = 1; frame < 60; frame++) expect(Math.abs(drop[frame] - drop[frame - 1])).toBeLessThan(0.02);
    expect(drop[0]).toBe(0);
  });
});
