import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cross, dot, type Vec3 } from '@/core/math/vec3';
import { cameraAxes, fitCamera, panCamera, projector, type PaneCamera, type PaneView } from './projection';

const camera = (view: PaneView, change: Partial<PaneCamera> = {}): PaneCamera => ({
  view,
  target: [0, 1, 0],
  halfHeight: 1,
  yawRad: 0.5,
  pitchRad: 0.2,
  ...change,
});
const VIEWS: PaneView[] = ['front', 'side', 'top', 'free'];

describe("the stage's cameras", () => {
  it.each(VIEWS)('%s: right, up and back are a right-handed frame', (view) => {
    const { right, up, back } = cameraAxes(camera(view));
    for (const [a, b] of [
      [right, up],
      [up, back],
      [back, right],
    ])
      expect(dot(a, b)).toBeCloseTo(0, 12);
    cross(right, up).forEach((value, axis) => expect(value).toBeCloseTo(back[axis], 12));
  });

  it("the front view puts the character's left on the viewer's right, and up is up", () => {
    const project = projector(camera('front'), 200, 200);
    expect(project([0, 1, 0])).toEqual([100, 100]);
    expect(project([0.5, 1.5, 9])).toEqual([150, 50]);
  });

  it('the side view shows the front of the figure to the left', () => {
    expect((projector(camera('side'), 200, 200)([0, 1, 0.5]) as number[])[0]).toBeLessThan(100);
  });

  it('the free view shows near things larger, and nothing behind the eye', () => {
    const project = projector(camera('free', { yawRad: 0, pitchRad: 0 }), 200, 200);
    const [far, near] = [project([0.2, 1, -1]), project([0.2, 1, 1])] as number[][];
    expect(near[0]).toBeGreaterThan(far[0]);
    expect(project([0, 1, 100])).toBeNull();
  });

  it('fitting brings every point into the pane', () => {
    const point = fc.tuple(
      fc.double({ min: -3, max: 3, noNaN: true }),
      fc.double({ min: -3, max: 3, noNaN: true }),
      fc.double({ min: -3, max: 3, noNaN: true }),
    ) as fc.Arbitrary<Vec3>;
    fc.assert(
      fc.property(
        fc.array(point, { minLength: 1, maxLength: 8 }),
        fc.constantFrom<PaneView>('front', 'side', 'top'),
        (points, view) => {
          const project = projector(fitCamera(camera(view), points, 300, 200), 300, 200);
          for (const entry of points) {
            const [x, y] = project(entry) as [number, number];
            expect(x).toBeGreaterThanOrEqual(0);
            expect(x).toBeLessThanOrEqual(300);
            expect(y).toBeGreaterThanOrEqual(0);
            expect(y).toBeLessThanOrEqual(200);
          }
        },
      ),
    );
  });

  it.each(VIEWS)('%s: what is under the pointer follows a drag', (view) => {
    const before = projector(camera(view), 200, 200)([0, 1, 0]) as [number, number];
    const after = projector(panCamera(camera(view), 30, -20, 200), 200, 200)([0, 1, 0]) as [number, number];
    expect(after[0] - before[0]).toBeCloseTo(30, 6);
    expect(after[1] - before[1]).toBeCloseTo(-20, 6);
  });
});
