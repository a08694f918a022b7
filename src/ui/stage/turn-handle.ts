import { add, cross, scale, type Vec3 } from '@/core/math/vec3';
import type { OverlayTheme, Project, TurnHandle } from './overlay-types';

/** Radius of the arc on the screen where it is seen from above, pixels. */
const RADIUS = 74;
/** A knob that would lie beyond the edge of its pane is brought in by a smaller arc, but not smaller than this. */
const LEAST_RADIUS = 30;
const EDGE = 16;
/** The arc reaches so far to either side of where the knob was. */
const REACH_DEGREES = 120;
/** Seen more from the side than this the arc cannot be dragged along. */
const LEAST_OPENING = 0.25;
const KNOB = 8;

/** A handle as one pane shows it: its centre, and what a step along each of its two arms is in pixels. */
export interface HandleOnScreen {
  readonly centre: readonly [number, number];
  readonly along: readonly [number, number];
  readonly across: readonly [number, number];
}

/** What a handle needs to know of the pane it is in. */
export interface HandleRoom {
  readonly project: Project;
  /** At the handle's centre. */
  readonly pixelsPerMetre: number;
  readonly rect: { readonly width: number; readonly height: number };
}

/** @returns null where the handle is seen from the side, or not at all. */
export function handleOnScreen(handle: TurnHandle, room: HandleRoom): HandleOnScreen | null {
  const full = armsOf(handle, room, RADIUS);
  if (!full) return null;
  const share = shareWithin(full, room.rect);
  return share === 1 ? full : armsOf(handle, room, Math.max(LEAST_RADIUS, RADIUS * share));
}

/** How much of the way to the knob lies within the pane. */
function shareWithin({ centre, along }: HandleOnScreen, { width, height }: HandleRoom['rect']): number {
  const reach = (from: number, by: number, most: number): number =>
    by > 0 ? (most - EDGE - from) / by : by < 0 ? (EDGE - from) / by : 1;
  return Math.max(0, Math.min(1, reach(centre[0], along[0], width), reach(centre[1], along[1], height)));
}

function armsOf(handle: TurnHandle, { project, pixelsPerMetre }: HandleRoom, radius: number): HandleOnScreen | null {
  const metres = radius / pixelsPerMetre;
  const arm = (direction: Vec3) => project(add(handle.centre, scale(direction, metres)));
  const centre = project(handle.centre);
  const [from, side] = [arm(handle.from), arm(cross(handle.axis, handle.from))];
  if (!centre || !from || !side) return null;
  const along = [from[0] - centre[0], from[1] - centre[1]] as const;
  const across = [side[0] - centre[0], side[1] - centre[1]] as const;
  const opening = Math.abs(along[0] * across[1] - along[1] * across[0]) / radius ** 2;
  return opening < LEAST_OPENING ? null : { centre, along, across };
}

const at = ({ centre, along, across }: HandleOnScreen, degrees: number, share = 1): [number, number] => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180) * share, Math.sin((degrees * Math.PI) / 180) * share];
  return [centre[0] + along[0] * c + across[0] * s, centre[1] + along[1] * c + across[1] * s];
};

export const knobPlace = (screen: HandleOnScreen, degrees: number): [number, number] => at(screen, degrees);

export const isOnKnob = (screen: HandleOnScreen, degrees: number, x: number, y: number): boolean => {
  const [kx, ky] = knobPlace(screen, degrees);
  return Math.hypot(kx - x, ky - y) <= KNOB + 6;
};

/** Angle of a pixel about the handle, degrees from where the knob was, nearest to `near` of all its turns. */
export function degreesAt({ centre, along, across }: HandleOnScreen, x: number, y: number, near: number): number {
  const [dx, dy] = [x - centre[0], y - centre[1]];
  const area = along[0] * across[1] - along[1] * across[0];
  const a = (dx * across[1] - dy * across[0]) / area;
  const b = (along[0] * dy - along[1] * dx) / area;
  const degrees = (Math.atan2(b, a) * 180) / Math.PI;
  return degrees + 360 * Math.round((near - degrees) / 360);
}

/** An arc with a mark for each step, the wedge that was turned through, and a tab to take hold of. */
export function drawHandle(
  canvas: CanvasRenderingContext2D,
  handle: TurnHandle,
  screen: HandleOnScreen,
  paneWidth: number,
  theme: OverlayTheme,
): void {
  const { degrees, stepDegrees } = handle;
  canvas.save();
  canvas.lineCap = 'butt';
  drawArc(canvas, screen, stepDegrees, theme);
  if (degrees !== 0) {
    canvas.fillStyle = theme.accent;
    canvas.globalAlpha = 0.18;
    canvas.beginPath();
    canvas.moveTo(...screen.centre);
    trace(canvas, screen, 0, degrees, true);
    canvas.closePath();
    canvas.fill();
    canvas.globalAlpha = 1;
  }
  drawKnob(canvas, screen, degrees, theme);
  const [beside, level] = at(screen, degrees, 1.24);
  canvas.font = '600 13px "Source Sans 3 Variable", sans-serif';
  canvas.textAlign = 'center';
  canvas.textBaseline = 'middle';
  const width = canvas.measureText(handle.text).width + 10;
  const x = Math.max(width / 2, Math.min(paneWidth - width / 2, beside));
  // Pushed back from the edge it would lie on the knob.
  const y = x === beside ? level : level + 2.5 * KNOB;
  canvas.fillStyle = theme.ground;
  canvas.globalAlpha = 0.88;
  canvas.fillRect(x - width / 2, y - 10, width, 20);
  canvas.globalAlpha = 1;
  canvas.fillStyle = theme.ink;
  canvas.fillText(handle.text, x, y);
  canvas.restore();
}

function drawArc(
  canvas: CanvasRenderingContext2D,
  screen: HandleOnScreen,
  stepDegrees: number,
  theme: OverlayTheme,
): void {
  canvas.strokeStyle = theme.ink;
  canvas.lineWidth = 1.2;
  canvas.globalAlpha = 0.75;
  canvas.beginPath();
  trace(canvas, screen, -REACH_DEGREES, REACH_DEGREES, false);
  const count = Math.floor(REACH_DEGREES / stepDegrees);
  for (let step = -count; step <= count; step++) {
    const [x0, y0] = at(screen, step * stepDegrees, step % 3 === 0 ? 0.9 : 0.95);
    const [x1, y1] = at(screen, step * stepDegrees);
    canvas.moveTo(x0, y0);
    canvas.lineTo(x1, y1);
  }
  canvas.stroke();
  // The line that the turn is counted from.
  canvas.setLineDash([2, 3]);
  canvas.beginPath();
  canvas.moveTo(...screen.centre);
  canvas.lineTo(...at(screen, 0));
  canvas.stroke();
  canvas.globalAlpha = 1;
  canvas.setLineDash([]);
}

/** A tab that lies across the arc. */
function drawKnob(
  canvas: CanvasRenderingContext2D,
  screen: HandleOnScreen,
  degrees: number,
  theme: OverlayTheme,
): void {
  const [x, y] = at(screen, degrees);
  const [ix, iy] = at(screen, degrees, 0.9);
  canvas.save();
  canvas.translate(x, y);
  canvas.rotate(Math.atan2(y - iy, x - ix));
  canvas.beginPath();
  canvas.roundRect(-KNOB, -KNOB * 0.65, 2 * KNOB, 2 * KNOB * 0.65, 4);
  canvas.fillStyle = theme.accent;
  canvas.fill();
  canvas.strokeStyle = theme.ground;
  canvas.lineWidth = 1.5;
  canvas.stroke();
  canvas.restore();
}

function trace(
  canvas: CanvasRenderingContext2D,
  screen: HandleOnScreen,
  from: number,
  to: number,
  isJoined: boolean,
): void {
  const steps = Math.max(2, Math.ceil(Math.abs(to - from) / 4));
  for (let step = 0; step <= steps; step++) {
    const [x, y] = at(screen, from + ((to - from) * step) / steps);
    if (step === 0 && !isJoined) canvas.moveTo(x, y);
    else canvas.lineTo(x, y);
  }
}
