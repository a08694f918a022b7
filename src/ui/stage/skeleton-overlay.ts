import { lengthText, ruleMarks } from './rule-marks';
import type { Vec3 } from '@/core/math/vec3';

/** A bone as the stage draws it; places in metres, body axes. */
export interface StageBone {
  readonly index: number;
  readonly name: string;
  /** Bone that the rod comes from, -1 for none. */
  readonly parent: number;
  readonly side: 'left' | 'right' | 'centre' | 'spare';
  readonly position: Vec3;
}

export interface OverlayTheme {
  readonly left: string;
  readonly right: string;
  readonly centre: string;
  readonly ink: string;
  readonly quiet: string;
  readonly ground: string;
  readonly accent: string;
  readonly alarm: string;
}

/** A change of the tree that is about to be made, by the places of its joints. */
export interface PlannedChange {
  readonly rods: readonly (readonly [from: Vec3, to: Vec3])[];
  readonly joints: readonly Vec3[];
  readonly gone: readonly Vec3[];
}

export interface OverlayState {
  readonly bones: readonly StageBone[];
  /** Places before a change, drawn dashed; null for none. */
  readonly before: readonly Vec3[] | null;
  readonly selected: number | null;
  readonly hovered: number | null;
  readonly highlighted: ReadonlySet<number>;
  /** Size of the joints' rings, 1 as usual. */
  readonly jointScale: number;
  /** Names beside all mapped joints, not only the one in focus. */
  readonly hasLabels: boolean;
  /** The only bones to draw and to pick; null for all. */
  readonly isolated: ReadonlySet<number> | null;
  readonly planned: PlannedChange | null;
}

export type Project = (point: Vec3) => [number, number] | null;

/** Draws rods with a chevron toward the child, small rings for joints, and the labels of what is selected or hovered. */
export function drawSkeleton(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  project: Project,
  theme: OverlayTheme,
): ([number, number] | null)[] {
  const places = state.bones.map((bone) => (isShown(state, bone.index) ? project(bone.position) : null));
  if (state.before) drawBefore(canvas, state, state.before.map(project), theme);
  canvas.lineCap = 'round';
  const ordered = inDrawingOrder(state);
  drawRods(canvas, state, ordered, places, theme);
  drawJoints(canvas, state, ordered, places, theme);
  canvas.globalAlpha = 1;
  if (state.planned) drawPlanned(canvas, state.planned, state.jointScale, project, theme);
  if (state.hasLabels) drawLabels(canvas, state, places, theme);
  for (const index of new Set([state.selected, state.hovered]))
    if (index !== null) label(canvas, state, places[index], index, theme);
  return places;
}

const colourOf = (bone: StageBone, theme: OverlayTheme): string =>
  bone.side === 'spare' ? theme.quiet : theme[bone.side];

/** What is drawn alike, to be drawn in one go: a stroke for each of two thousand bones would hold up the page. */
class Looks<Look, Item> {
  private readonly groups = new Map<string, { look: Look; items: Item[] }>();

  add(look: Look, item: Item): void {
    const key = JSON.stringify(look);
    const group = this.groups.get(key);
    if (group) group.items.push(item);
    else this.groups.set(key, { look, items: [item] });
  }

  each(draw: (look: Look, items: readonly Item[]) => void): void {
    for (const { look, items } of this.groups.values()) draw(look, items);
  }
}

/** Spares lie below the body, and what is marked lies on top. */
function inDrawingOrder(state: OverlayState): StageBone[] {
  const rank = (bone: StageBone) => (isInFocus(state, bone.index) ? 2 : bone.side === 'spare' ? 0 : 1);
  const ranks: StageBone[][] = [[], [], []];
  for (const bone of state.bones) ranks[rank(bone)].push(bone);
  return ranks.flat();
}

const isInFocus = (state: OverlayState, bone: number): boolean =>
  bone === state.selected || bone === state.hovered || state.highlighted.has(bone);

type Segment = readonly [from: readonly number[], to: readonly number[]];

function drawRods(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  ordered: readonly StageBone[],
  places: readonly ([number, number] | null)[],
  theme: OverlayTheme,
): void {
  const rods = new Looks<{ colour: string; alpha: number; width: number }, Segment>();
  for (const bone of ordered) {
    const [from, to] = [places[bone.parent], places[bone.index]];
    if (!from || !to) continue;
    const above = state.bones[bone.parent];
    const colour = state.highlighted.has(bone.index)
      ? theme.alarm
      : colourOf(above && above.side !== 'centre' ? above : bone, theme);
    const isSpare = bone.side === 'spare';
    rods.add({ colour, alpha: isSpare ? 0.55 : 1, width: bone.parent === state.selected ? 5 : isSpare ? 1.1 : 2 }, [
      from,
      to,
    ]);
  }
  rods.each(({ colour, alpha, width }, segments) => {
    canvas.strokeStyle = colour;
    canvas.globalAlpha = alpha;
    canvas.lineWidth = width;
    canvas.beginPath();
    for (const [from, to] of segments) addLine(canvas, from, to);
    canvas.stroke();
    canvas.lineWidth = 1.6;
    canvas.beginPath();
    for (const [from, to] of segments)
      if (Math.hypot(to[0] - from[0], to[1] - from[1]) > 18) addChevron(canvas, from, to);
    canvas.stroke();
  });
}

function drawJoints(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  ordered: readonly StageBone[],
  places: readonly ([number, number] | null)[],
  theme: OverlayTheme,
): void {
  const rings = new Looks<
    { fill: string; stroke: string; alpha: number; width: number; radius: number },
    readonly [number, number]
  >();
  for (const bone of ordered) {
    const place = places[bone.index];
    if (!place) continue;
    const isBig = isInFocus(state, bone.index);
    const isSpare = bone.side === 'spare';
    rings.add(
      {
        fill: bone.index === state.selected ? theme.accent : theme.ground,
        stroke: state.highlighted.has(bone.index) ? theme.alarm : colourOf(bone, theme),
        alpha: isSpare && !isBig ? 0.6 : 1,
        width: isBig ? 2 : 1.3,
        radius: (isBig ? 5 : isSpare ? 1.8 : 3) * state.jointScale,
      },
      place,
    );
  }
  rings.each(({ fill, stroke, alpha, width, radius }, centres) => {
    canvas.beginPath();
    for (const [x, y] of centres) {
      canvas.moveTo(x + radius, y);
      canvas.arc(x, y, radius, 0, 2 * Math.PI);
    }
    canvas.globalAlpha = 1;
    canvas.fillStyle = fill;
    canvas.fill();
    canvas.globalAlpha = alpha;
    canvas.strokeStyle = stroke;
    canvas.lineWidth = width;
    canvas.stroke();
  });
}

const isShown = (state: OverlayState, bone: number): boolean => state.isolated === null || state.isolated.has(bone);

/** Names of the mapped joints, nearest the top first; one that would cover an earlier one is left out. */
function drawLabels(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  places: readonly ([number, number] | null)[],
  theme: OverlayTheme,
): void {
  canvas.font = '11px "JetBrains Mono Variable", monospace';
  canvas.textBaseline = 'middle';
  const taken: { x: number; y: number; width: number }[] = [];
  const wanted = state.bones
    .filter((bone) => places[bone.index] && (bone.side !== 'spare' || state.isolated !== null))
    .sort((a, b) => (places[a.index]?.[1] ?? 0) - (places[b.index]?.[1] ?? 0));
  for (const bone of wanted) {
    const [x, y] = places[bone.index] as [number, number];
    const width = canvas.measureText(bone.name).width + 10;
    if (taken.some((other) => Math.abs(other.y - y) < 13 && x < other.x + other.width && other.x < x + width)) continue;
    taken.push({ x, y, width });
    canvas.fillStyle = theme.ink;
    canvas.fillText(bone.name, x + 7 * state.jointScale, y);
  }
}

function drawBefore(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  places: ([number, number] | null)[],
  theme: OverlayTheme,
): void {
  canvas.save();
  canvas.setLineDash([4, 3]);
  canvas.strokeStyle = theme.quiet;
  canvas.lineWidth = 1.2;
  for (const bone of state.bones) {
    const [from, to] = [places[bone.parent], places[bone.index]];
    if (from && to && bone.side !== 'spare') line(canvas, from, to);
  }
  canvas.restore();
}

/** New rods dashed, new joints as filled diamonds, a cross over what goes. */
function drawPlanned(
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
    if (a && b) addLine(canvas, a, b);
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
    addLine(canvas, [x - arm, y - arm], [x + arm, y + arm]);
    addLine(canvas, [x - arm, y + arm], [x + arm, y - arm]);
  });
  canvas.stroke();
  canvas.restore();
}

function line(canvas: CanvasRenderingContext2D, from: readonly number[], to: readonly number[]): void {
  canvas.beginPath();
  addLine(canvas, from, to);
  canvas.stroke();
}

function addLine(canvas: CanvasRenderingContext2D, from: readonly number[], to: readonly number[]): void {
  canvas.moveTo(from[0], from[1]);
  canvas.lineTo(to[0], to[1]);
}

/** An open arrow in the middle of a rod, toward the child. */
function addChevron(canvas: CanvasRenderingContext2D, from: readonly number[], to: readonly number[]): void {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const [ux, uy] = [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
  const [mx, my] = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
  const arm = 4.5;
  canvas.moveTo(mx - ux * arm - uy * arm, my - uy * arm + ux * arm);
  canvas.lineTo(mx, my);
  canvas.lineTo(mx - ux * arm + uy * arm, my - uy * arm - ux * arm);
}

function label(
  canvas: CanvasRenderingContext2D,
  state: OverlayState,
  place: [number, number] | null,
  index: number,
  theme: OverlayTheme,
): void {
  const bone = state.bones[index];
  if (!place || !bone) return;
  const mark = bone.side === 'left' ? '  L' : bone.side === 'right' ? '  R' : '';
  const text = `${bone.name}${mark}`;
  canvas.font = '600 12px "JetBrains Mono Variable", monospace';
  const width = canvas.measureText(text).width;
  canvas.fillStyle = theme.ground;
  canvas.globalAlpha = 0.88;
  canvas.fillRect(place[0] + 8, place[1] - 9, width + 8, 18);
  canvas.globalAlpha = 1;
  canvas.fillStyle = bone.side === 'left' ? theme.left : bone.side === 'right' ? theme.right : theme.ink;
  canvas.textBaseline = 'middle';
  canvas.fillText(text, place[0] + 12, place[1]);
}

/** All joints so near to each other under a pixel that a click cannot tell them apart, nearest first. */
export function pickTied(places: readonly ([number, number] | null)[], x: number, y: number): number[] {
  const near = places
    .flatMap((place, bone) => {
      const away = place ? Math.hypot(place[0] - x, place[1] - y) : Infinity;
      return away < 12 ? [{ bone, away, place: place as [number, number] }] : [];
    })
    .sort((a, b) => a.away - b.away);
  const [first] = near;
  return near
    .filter(({ place }) => Math.hypot(place[0] - first.place[0], place[1] - first.place[1]) < 3)
    .map(({ bone }) => bone);
}

/** Index of the joint nearest to a pixel, or of the nearest rod's upper joint; null when nothing is within reach. */
export function pickBone(
  state: OverlayState,
  places: readonly ([number, number] | null)[],
  x: number,
  y: number,
): number | null {
  let best: number | null = null;
  let bestDistance = 12;
  for (const bone of state.bones) {
    const place = places[bone.index];
    if (!place) continue;
    const away = Math.hypot(place[0] - x, place[1] - y) - (bone.side === 'spare' ? 0 : 2);
    if (away < bestDistance) [best, bestDistance] = [bone.index, away];
  }
  if (best !== null) return best;
  let nearest = 7;
  for (const bone of state.bones) {
    const [from, to] = [places[bone.parent], places[bone.index]];
    if (!from || !to) continue;
    const away = distanceToRod(x, y, from, to);
    if (away < nearest) [best, nearest] = [bone.parent, away];
  }
  return best;
}

function distanceToRod(x: number, y: number, from: readonly number[], to: readonly number[]): number {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const squared = dx * dx + dy * dy;
  const t = squared > 0 ? Math.max(0, Math.min(1, ((x - from[0]) * dx + (y - from[1]) * dy) / squared)) : 0;
  return Math.hypot(from[0] + dx * t - x, from[1] + dy * t - y);
}

/** A vertical rule beside the figure, from the floor it stands on, and its height from there to its crown. */
export function drawRule(
  canvas: CanvasRenderingContext2D,
  project: Project,
  { heightMetres, floorMetres }: { readonly heightMetres: number; readonly floorMetres: number },
  x: number,
  theme: OverlayTheme,
): void {
  canvas.strokeStyle = theme.quiet;
  canvas.fillStyle = theme.quiet;
  canvas.lineWidth = 1;
  canvas.font = '12px "Source Sans 3 Variable", sans-serif';
  canvas.textBaseline = 'middle';
  canvas.textAlign = 'right';
  const at = (metres: number) => project([0, floorMetres + metres, 0])?.[1] ?? 0;
  const marks = ruleMarks(heightMetres, (at(0) - at(heightMetres)) / heightMetres);
  if (marks.length === 0) return;
  line(canvas, [x, at(0)], [x, at(marks[marks.length - 1].metres)]);
  for (const { metres, text } of marks) {
    line(canvas, [x - 4, at(metres)], [x, at(metres)]);
    canvas.fillText(text, x - 7, at(metres));
  }
  canvas.textAlign = 'left';
  const crown = at(heightMetres);
  line(canvas, [x, crown], [x + 8, crown]);
  canvas.fillText(lengthText(heightMetres), x + 11, crown);
}
