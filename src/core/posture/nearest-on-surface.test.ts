import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeSurface, nearestOnSurface } from './nearest-on-surface';

/** A ball of many triangles about the origin. */
function ball(radius: number, steps = 40): { places: Float64Array; triangles: Uint32Array } {
  const places: number[] = [];
  const triangles: number[] = [];
  for (let ring = 0; ring <= steps; ring++) {
    for (let turn = 0; turn < steps; turn++) {
      const [polar, around] = [(Math.PI * ring) / steps, (2 * Math.PI * turn) / steps];
      places.push(
        radius * Math.sin(polar) * Math.cos(around),
        radius * Math.cos(polar),
        radius * Math.sin(polar) * Math.sin(around),
      );
      if (ring === steps) continue;
      const [a, b] = [ring * steps + turn, ring * steps + ((turn + 1) % steps)];
      triangles.push(a, b, a + steps, b, b + steps, a + steps);
    }
  }
  return { places: Float64Array.from(places), triangles: Uint32Array.from(triangles) };
}

describe('distance to a surface', () => {
  const { places, triangles } = ball(1);
  const surface = makeSurface(places, triangles);
  const to = (...points: number[]) => nearestOnSurface(Float64Array.from(points), surface);

  it('is that to a ball wherever the point is, negative inside', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 4, noNaN: true }),
        fc.double({ min: 0.1, max: 3, noNaN: true }),
        fc.double({ min: 0.1, max: 6, noNaN: true }),
        (far, polar, around) => {
          const away = to(
            far * Math.sin(polar) * Math.cos(around),
            far * Math.cos(polar),
            far * Math.sin(polar) * Math.sin(around),
          );
          // The facets lie up to 0.4 % inside the ball.
          expect(Math.abs(away - (far - 1))).toBeLessThan(0.008);
        },
      ),
      { seed: 5, numRuns: 300 },
    );
  });

  it('is the least of several points, and the deepest where some are inside', () => {
    expect(to(0, 3, 0, 0, 1.5, 0)).toBeCloseTo(0.5, 2);
    expect(to(0, 3, 0, 0, 0.7, 0, 0.1, 0.2, 0)).toBeCloseTo(-0.77, 1);
  });
});
