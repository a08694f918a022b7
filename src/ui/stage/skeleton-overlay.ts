import { add, scale, type Vec3 } from '@/core/math/vec3';
import type { AssumedHinge, OverlayState, OverlayTheme, PlannedChange, Project } from './overlay-types';
import type { PlaceSet } from './place-set';
import type { SkeletonPlan } from './skeleton-plan';

/** Rods shorter than this have no chevron, pixels. */
const CHEVRON_ROOM = 18;

/** Draws rods with a chevron toward the child, small rings for joints, and the labels of what is selected or hovered. */
export function drawSkeleton(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  plan: SkeletonPlan,
  places: PlaceSet,
  theme: OverlayTheme,
): void {
  canvas.lineCap = 'round';
  drawRods(canvas, plan, places);
  drawRings(canvas, plan, places);
  canvas.globalAlpha = 1;
  if (state.hasLabels) drawLabels(canvas, state, places, theme);
  if (state.selected !== null) label(canvas, state, places, state.selected, theme);
  if (state.hovered !== null && state.hovered !== state.selected) label(canvas, state, places, state.hovered, theme);
}

function drawRods(canvas: CanvasRenderingContext2D, { rods }: SkeletonPlan, places: PlaceSet): void {
  for (const { look, bones } of rods) {
    canvas.strokeStyle = look.colour;
    canvas.globalAlpha = look.alpha;
    canvas.lineWidth = look.width;
    canvas.beginPath();
    for (const { index, parent } of bones)
      if (places.has(index) && places.has(parent)) addRod(canvas, places, parent, index);
    canvas.stroke();
    canvas.lineWidth = 1.6;
    canvas.beginPath();
    for (const { index, parent } of bones)
      if (places.has(index) && places.has(parent)) addChevron(canvas, places, parent, index);
    canvas.stroke();
  }
}

function drawRings(canvas: CanvasRenderingContext2D, { rings }: SkeletonPlan, places: PlaceSet): void {
  for (const { look, bones } of rings) {
    canvas.beginPath();
    for (const { index } of bones) {
      if (!places.has(index)) continue;
      canvas.moveTo(places.x(index) + look.radius, places.y(index));
      canvas.arc(places.x(index), places.y(index), look.radius, 0, 2 * Math.PI);
    }
    canvas.globalAlpha = 1;
    canvas.fillStyle = look.fill;
    canvas.fill();
    canvas.globalAlpha = look.alpha;
    canvas.strokeStyle = look.stroke;
    canvas.lineWidth = look.width;
    canvas.stroke();
  }
}

/** Names of the mapped joints, nearest the top first; one that would cover an earlier one is left out. */
function drawLabels(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  places: PlaceSet,
  theme: OverlayTheme,
): void {
  canvas.font = '11px "JetBrains Mono Variable", monospace';
  canvas.textBaseline = 'middle';
  const taken: { x: number; y: number; width: number }[] = [];
  const wanted = state.bones
    .filter((bone) => places.has(bone.index) && (bone.side !== 'spare' || state.isolated !== null))
    .sort((a, b) => places.y(a.index) - places.y(b.index));
  for (const { index, name } of wanted) {
    const [x, y] = [places.x(index), places.y(index)];
    const width = canvas.measureText(name).width + 10;
    if (taken.some((other) => Math.abs(other.y - y) < 13 && x < other.x + other.width && other.x < x + width)) continue;
    taken.push({ x, y, width });
    canvas.fillStyle = theme.ink;
    canvas.fillText(name, x + 7 * state.jointScale, y);
  }
}

/** A skeleton as it was, in dashes. */
export function drawBefore(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  places: PlaceSet,
  theme: OverlayTheme,
): void {
  canvas.save();
  canvas.setLineDash([4, 3]);
  canvas.strokeStyle = theme.quiet;
  canvas.lineWidth = 1.2;
  canvas.beginPath();
  for (const { index, parent, side } of state.bones)
    if (side !== 'spare' && places.has(index) && places.has(parent)) addRod(canvas, places, parent, index);
  canvas.stroke();
  canvas.restore();
}

/** New rods dashed, new joints as filled diamonds, a cross over what goes. */
export function drawPlanned(
  canvas: CanvasRenderingContext2D,
  { rods, joints, gone }: PlannedChange,
  jointScale: number,
  project: Project,
  theme: OverlayTheme,
): void {
  const [size, arm] = [6 * jointScale, 6 * jointScale];
  const each = (points: readonly Vec3[], add: (x: number, y: number) => void) => {
    for (const point of points) {
      const place = project(point);
      if (place) add(...place);
    }
  };
  canvas.save();
  canvas.lineWidth = 2.4;
  canvas.strokeStyle = theme.accent;
  canvas.setLineDash([6, 4]);
  canvas.beginPath();
  for (const [from, to] of rods) {
    const [a, b] = [project(from), project(to)];
    if (a && b) addLine(canvas, a[0], a[1], b[0], b[1]);
  }
  canvas.stroke();
  canvas.setLineDash([]);
  canvas.fillStyle = theme.accent;
  canvas.beginPath();
  each(joints, (x, y) => {
    canvas.moveTo(x, y - size);
    for (const [dx, dy] of [
      [size, 0],
      [0, size],
      [-size, 0],
      [0, -size],
    ])
      canvas.lineTo(x + dx, y + dy);
  });
  canvas.fill();
  canvas.strokeStyle = theme.alarm;
  canvas.beginPath();
  each(gone, (x, y) => {
    addLine(canvas, x - arm, y - arm, x + arm, y + arm);
    addLine(canvas, x - arm, y + arm, x + arm, y - arm);
  });
  canvas.stroke();
  canvas.restore();
}

/** Pins through joints whose fold is assumed: dashed, since nothing in the file shows them. */
export function drawHinges(
  canvas: CanvasRenderingContext2D,
  hinges: readonly AssumedHinge[],
  halfMetres: number,
  project: Project,
  theme: OverlayTheme,
): void {
  canvas.save();
  canvas.strokeStyle = theme.alarm;
  canvas.lineWidth = 2;
  canvas.setLineDash([3, 3]);
  canvas.beginPath();
  for (const { at, axis } of hinges) {
    const [a, b] = [project(add(at, scale(axis, -halfMetres))), project(add(at, scale(axis, halfMetres)))];
    if (a && b) addLine(canvas, a[0], a[1], b[0], b[1]);
  }
  canvas.stroke();
  canvas.restore();
}

function addRod(canvas: CanvasRenderingContext2D, places: PlaceSet, from: number, to: number): void {
  addLine(canvas, places.x(from), places.y(from), places.x(to), places.y(to));
}

export function addLine(canvas: CanvasRenderingContext2D, x0: number, y0: number, x1: number, y1: number): void {
  canvas.moveTo(x0, y0);
  canvas.lineTo(x1, y1);
}

/** An open arrow in the middle of a rod, toward the child. */
function addChevron(canvas: CanvasRenderingContext2D, places: PlaceSet, from: number, to: number): void {
  const dx = places.x(to) - places.x(from);
  const dy = places.y(to) - places.y(from);
  const length = Math.hypot(dx, dy);
  if (length <= CHEVRON_ROOM) return;
  const arm = 4.5;
  const ux = (dx / length) * arm;
  const uy = (dy / length) * arm;
  const mx = (places.x(from) + places.x(to)) / 2;
  const my = (places.y(from) + places.y(to)) / 2;
  canvas.moveTo(mx - ux - uy, my - uy + ux);
  canvas.lineTo(mx, my);
  canvas.lineTo(mx - ux + uy, my - uy - ux);
}

function label(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  places: PlaceSet,
  index: number,
  theme: OverlayTheme,
): void {
  const bone = state.bones[index];
  if (!bone || !places.has(index)) return;
  const [x, y] = [places.x(index), places.y(index)];
  const mark = bone.side === 'left' ? '  L' : bone.side === 'right' ? '  R' : '';
  const text = `${bone.name}${mark}`;
  canvas.font = '600 12px "JetBrains Mono Variable", monospace';
  const width = canvas.measureText(text).width;
  canvas.fillStyle = theme.ground;
  canvas.globalAlpha = 0.88;
  canvas.fillRect(x + 8, y - 9, width + 8, 18);
  canvas.globalAlpha = 1;
  canvas.fillStyle = bone.side === 'left' ? theme.left : bone.side === 'right' ? theme.right : theme.ink;
  canvas.textBaseline = 'middle';
  canvas.fillText(text, x + 12, y);
}
