import { ZERO, type Vec3 } from '@/core/math/vec3';
import type { ProjectInto } from './projection';

/** Three numbers for each joint: metres, body axes. */
export type JointPlaces = Float64Array | Float32Array;

/** Where joints lie in a pane, pixels; kept in one array that is filled anew for each drawing. */
export class PlaceSet {
  private pixels = new Float32Array(0);

  /** @param offset added to each place, metres. @param only the joints that are shown; null for all. */
  fill(points: JointPlaces, project: ProjectInto, only: ReadonlySet<number> | null, [dx, dy, dz]: Vec3 = ZERO): void {
    const count = points.length / 3;
    if (this.pixels.length !== count * 2) this.pixels = new Float32Array(count * 2);
    for (let at = 0; at < count; at++) {
      if (only === null || only.has(at))
        project(points[at * 3] + dx, points[at * 3 + 1] + dy, points[at * 3 + 2] + dz, this.pixels, at * 2);
      else this.pixels.fill(NaN, at * 2, at * 2 + 2);
    }
  }

  get count(): number {
    return this.pixels.length / 2;
  }

  /** Whether the joint is shown at all: it may lie behind the eye, or be left out. */
  has(joint: number): boolean {
    return joint >= 0 && !Number.isNaN(this.pixels[joint * 2] ?? NaN);
  }

  x(joint: number): number {
    return this.pixels[joint * 2];
  }

  y(joint: number): number {
    return this.pixels[joint * 2 + 1];
  }
}
