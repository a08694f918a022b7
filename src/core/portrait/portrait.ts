import { sideOfRole, type Definition } from '../definition/definition';
import type { Match } from '../match/context/match-types';
import { toBody, type Normalisation } from '../frame/normalise';
import type { Rig } from '../rig/rig';
import type { Vec3 } from '../math/vec3';

/** Size of the drawing in SVG units; the figure is fitted into it with a margin. */
const WIDTH = 48;
const HEIGHT = 64;
const MARGIN = 4;

/**
 * A stick drawing of a rig as SVG text: a humanoid from the front, everything else whole and from its longer side. Left and right limbs carry the classes `left` and `right`, the rest
 * `centre` or `spare`, so that the page's theme colours them.
 */
export function drawPortrait(rig: Rig, normalisation: Normalisation, match: Match, definition: Definition): string {
  const sideOf = new Map<number, string>();
  const { isHumanoid } = match.creature;
  for (const { role, boneIndex } of isHumanoid ? Object.values(match.assignments) : []) {
    sideOf.set(boneIndex, sideOfRole(definition, role) ?? 'centre');
  }
  for (const line of isHumanoid ? match.lines : [])
    for (const bone of line.bones) if (!sideOf.has(bone)) sideOf.set(bone, 'centre');
  const front = rig.bones.map((bone) =>
    toBody(normalisation, [bone.restWorld[12], bone.restWorld[13], bone.restWorld[14]]),
  );
  const isSeenFromSide = !isHumanoid && spanOf(front, 2) > spanOf(front, 0);
  const places = isSeenFromSide ? front.map(([x, y, z]): Vec3 => [-z, y, x]) : front;
  const shown = places.filter((_, bone) => sideOf.size === 0 || sideOf.has(bone));
  const fit = fitInto(shown);
  const lines: string[] = [];
  for (const bone of rig.bones) {
    const kind = sideOf.get(bone.index);
    if (sideOf.size > 0 && !kind) continue;
    const parent = nearestShown(rig, sideOf, bone.index);
    if (parent < 0) continue;
    const [from, to] = [fit(places[parent]), fit(places[bone.index])];
    lines.push(`<line class="${kind ?? 'spare'}" x1="${from[0]}" y1="${from[1]}" x2="${to[0]}" y2="${to[1]}"/>`);
  }
  if (rig.bones.length === 0 && rig.mesh.bounds) lines.push(outline(rig.mesh.bounds, normalisation));
  const head = isHumanoid ? match.assignments.head : undefined;
  if (head) {
    const [x, y] = fit(places[head.boneIndex]);
    lines.push(`<circle class="centre" cx="${x}" cy="${round(y - 2.2)}" r="2.6"/>`);
  }
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" fill="none" stroke="currentColor" stroke-width="1.3" stroke-linecap="round">${lines.join('')}</svg>`;
}

/** What has no bones is drawn by its extent, dashed. */
function outline({ min, max }: NonNullable<Rig['mesh']['bounds']>, normalisation: Normalisation): string {
  const corners = [toBody(normalisation, min), toBody(normalisation, max)];
  const [a, b] = corners.map(fitInto(corners));
  const [x, y] = [Math.min(a[0], b[0]), Math.min(a[1], b[1])];
  return `<rect class="spare" stroke-dasharray="2.5 2.5" rx="3" x="${x}" y="${y}" width="${round(Math.abs(a[0] - b[0]))}" height="${round(Math.abs(a[1] - b[1]))}"/>`;
}

function nearestShown(rig: Rig, shown: ReadonlyMap<number, string>, bone: number): number {
  for (let at = rig.bones[bone].parent; at >= 0; at = rig.bones[at].parent)
    if (shown.size === 0 || shown.has(at)) return at;
  return -1;
}

const spanOf = (points: readonly Vec3[], axis: 0 | 2): number =>
  points.length > 0
    ? Math.max(...points.map((point) => point[axis])) - Math.min(...points.map((point) => point[axis]))
    : 0;

const round = (value: number): number => Math.round(value * 10) / 10;

/** Seen from the front the character's left is on the viewer's right. */
function fitInto(points: readonly Vec3[]): (point: Vec3) => [number, number] {
  const xs = points.map((point) => point[0]);
  const ys = points.map((point) => point[1]);
  const [minX, maxX, minY, maxY] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min(
    (WIDTH - 2 * MARGIN) / Math.max(maxX - minX, 1e-6),
    (HEIGHT - 2 * MARGIN - 5) / Math.max(maxY - minY, 1e-6),
  );
  const middle = (minX + maxX) / 2;
  return ([x, y]) => [round(WIDTH / 2 + (x - middle) * scale), round(HEIGHT - MARGIN - (y - minY) * scale)];
}
