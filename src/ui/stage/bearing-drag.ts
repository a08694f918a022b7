import { add, scale, type Vec3 } from '@/core/math/vec3';
import type { OverlayPass } from './overlay-pass';
import { cameraAxes } from './projection';
import type { PaneSpot } from './stage-input';

/** How near to a point a pointer takes hold of it, pixels. */
const HOLD_PIXELS = 8;

/** Drags a point that bears in the plane of the screen; nothing is told before it is let go. */
export class BearingDrag {
  private held: { readonly at: number; readonly from: Vec3; readonly x: number; readonly y: number } | null = null;

  constructor(private readonly overlay: OverlayPass) {}

  get isHeld(): boolean {
    return this.held !== null;
  }

  /** The point under a pointer; the nearest of several. */
  pointAt({ pane, x, y }: PaneSpot): number | null {
    const { bearing } = this.overlay.state;
    let best: { at: number; away: number } | null = null;
    for (let at = 0; at < bearing.length / 3; at++) {
      const place = pane.project(this.placeOf(at));
      const away = place ? Math.hypot(place[0] - x, place[1] - y) : Infinity;
      if (away <= HOLD_PIXELS && away < (best?.away ?? Infinity)) best = { at, away };
    }
    return best?.at ?? null;
  }

  take(spot: PaneSpot): void {
    const at = this.pointAt(spot);
    this.held = at === null ? null : { at, from: this.placeOf(at), x: spot.x, y: spot.y };
  }

  /** Shows the point under the pointer. @returns which it is and how far it was moved, metres, body axes. */
  move({ pane, x, y }: PaneSpot): { readonly at: number; readonly by: Vec3 } | null {
    const { held } = this;
    if (!held) return null;
    const { right, up } = cameraAxes(pane.camera);
    const start = pane.project(held.from);
    const aside = pane.project(add(held.from, scale(right, PROBE_METRES)));
    if (!start || !aside) return null;
    const metres = PROBE_METRES / Math.max(1e-6, Math.hypot(aside[0] - start[0], aside[1] - start[1]));
    const by = add(scale(right, (x - held.x) * metres), scale(up, (held.y - y) * metres));
    const { state } = this.overlay;
    const bearing = state.bearing.slice();
    bearing.set(add(held.from, by), held.at * 3);
    this.overlay.set({ ...state, bearing });
    return { at: held.at, by };
  }

  drop(): void {
    this.held = null;
  }

  private placeOf(at: number): Vec3 {
    const { bearing } = this.overlay.state;
    return [bearing[at * 3], bearing[at * 3 + 1], bearing[at * 3 + 2]];
  }
}

/** What a step of this length is in pixels tells how far a pointer has gone. */
const PROBE_METRES = 0.01;
