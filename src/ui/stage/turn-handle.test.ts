import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TurnHandle } from './overlay-types';
import { projector, type PaneCamera } from './projection';
import { degreesAt, handleOnScreen, isOnKnob, knobPlace } from './turn-handle';

const FRONT: PaneCamera = { view: 'front', target: [0, 1, 0], halfHeight: 1, yawRad: 0, pitchRad: 0 };
const PIXELS_PER_METRE = 200;
const ROOM = {
  project: projector(FRONT, 400, 400),
  pixelsPerMetre: PIXELS_PER_METRE,
  rect: { width: 400, height: 400 },
};

/** About the front axis at a left shoulder, the knob along the arm that lies outward. */
const raise: TurnHandle = {
  centre: [0.2, 1.4, 0],
  axis: [0, 0, 1],
  from: [1, 0, 0],
  degrees: 0,
  stepDegrees: 5,
  text: '0°',
};

describe('a handle to turn by', () => {
  it('stands on the arc where its angle says, in the sense of its axis', () => {
    const screen = handleOnScreen(raise, ROOM);
    if (!screen) throw new Error('not seen');
    const [x, y] = screen.centre;
    expect(x).toBeCloseTo(240, 9);
    expect(y).toBeCloseTo(120, 9);
    // Raised means up on the screen.
    expect(degreesAt(screen, x, y - 50, 0)).toBeCloseTo(90, 9);
    expect(degreesAt(screen, x + 50, y, 0)).toBeCloseTo(0, 9);
    expect(degreesAt(screen, x, y + 50, 0)).toBeCloseTo(-90, 9);
    expect(isOnKnob(screen, 0, x + 74, y)).toBe(true);
    expect(isOnKnob(screen, 90, x + 74, y)).toBe(false);
    expect(isOnKnob(screen, 90, x, y - 74)).toBe(true);
  });

  it('goes on beyond half a turn instead of jumping back', () => {
    const screen = handleOnScreen(raise, ROOM);
    if (!screen) throw new Error('not seen');
    const [x, y] = screen.centre;
    expect(degreesAt(screen, x - 50, y + 1, 179)).toBeCloseTo(181.1, 0);
    expect(degreesAt(screen, x - 50, y - 1, -179)).toBeCloseTo(-181.1, 0);
  });

  it('is the mirror image about the opposite axis', () => {
    const screen = handleOnScreen({ ...raise, axis: [0, 0, -1] }, ROOM);
    if (!screen) throw new Error('not seen');
    expect(degreesAt(screen, screen.centre[0], screen.centre[1] - 50, 0)).toBeCloseTo(-90, 9);
  });

  it('is made smaller where its knob would lie beyond the edge', () => {
    const near = handleOnScreen({ ...raise, centre: [0.75, 1.4, 0] }, ROOM);
    if (!near) throw new Error('not seen');
    const [x, y] = knobPlace(near, 0);
    expect(x).toBeCloseTo(384, 6);
    expect(y).toBeCloseTo(near.centre[1], 6);
    expect(degreesAt(near, near.centre[0], near.centre[1] - 10, 0)).toBeCloseTo(90, 9);
  });

  it('is left out where it is seen from the side', () => {
    expect(handleOnScreen({ ...raise, axis: [0, 1, 0] }, ROOM)).toBeNull();
  });

  it('reads back the angle it shows, whatever way it lies and from wherever it is seen', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -170, max: 170, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: -0.8, max: 0.8, noNaN: true }),
        (degrees, yawRad, pitchRad) => {
          const free = projector({ ...FRONT, view: 'free', yawRad, pitchRad }, 400, 400);
          const screen = handleOnScreen(raise, { ...ROOM, project: free });
          if (!screen) return;
          const { centre, along, across } = screen;
          const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
          const [x, y] = [0, 1].map((axis) => centre[axis] + 0.6 * (along[axis] * c + across[axis] * s));
          expect(degreesAt(screen, x, y, degrees)).toBeCloseTo(degrees, 6);
        },
      ),
    );
  });
});
