import { conjugate, rotate, type Quat } from '../../math/quat';
import { anyPerpendicular, cross, distance, distanceToSegment, normalise, subtract, type Vec3 } from '../../math/vec3';
import type { StandingFigure } from '../../motion/fitted-rig';

/**
 * Skin around a segment: how far it stands from the axis, by place along it and by direction around it. Where a part
 * wears several layers the inner one counts: cloth gives way, a body does not.
 */
export interface RadialWall {
  readonly from: number;
  readonly to: number;
  /** Metres. */
  readonly length: number;
  /** Axis and two directions across it, in the own axes of the bone `from`. */
  readonly axes: readonly [along: Vec3, across: Vec3, third: Vec3];
  /** [SLICES x SECTORS] metres. */
  readonly radii: Float64Array;
  readonly greatest: number;
}

const SLICES = 8;
const SECTORS = 12;
/** Of the vertices of a field, ordered from the axis: the skin. */
const SKIN_SHARE = 0.3;

/**
 * @param rods all segments that the vertices belong to: each vertex counts for the nearest.
 * @param places [pointCount x 3] points spread over the skin (`spreadOver`) in the reference posture, body frame, metres.
 * @param lowest what hangs lower is left out, metres; null for none.
 */
export function radialWall(
  { from, to }: { readonly from: number; readonly to: number },
  rods: readonly { readonly from: number; readonly to: number }[],
  places: Float64Array,
  standing: StandingFigure,
  lowest: number | null,
): RadialWall {
  const [start, end] = [standing.places[from], standing.places[to]];
  const way = subtract(end, start);
  const length = Math.max(1e-6, Math.hypot(...way));
  const along = normalise(way) ?? [0, 1, 0];
  const across = anyPerpendicular(along);
  const body = [along, across, cross(along, across)] as const;
  const own = conjugate(standing.rotations[from]);
  const axes = body.map((axis) => rotate(own, axis)) as unknown as RadialWall['axes'];
  const fields: number[][] = Array.from({ length: SLICES * SECTORS }, () => []);
  for (let at = 0; at < places.length; at += 3) {
    const place: Vec3 = [places[at], places[at + 1], places[at + 2]];
    if (lowest !== null && place[1] < lowest) continue;
    const nearest = rods.reduce(
      (best, rod) => {
        const away = distanceToSegment(place, standing.places[rod.from], standing.places[rod.to]);
        return away < best.away ? { rod, away } : best;
      },
      { rod: rods[0], away: Infinity },
    );
    if (nearest.rod.from !== from) continue;
    const { field, radius } = fieldOf(subtract(place, start), body, length);
    fields[field].push(radius);
  }
  const radii = filled(
    fields.map((field) => field.sort((a, b) => a - b)[Math.floor(field.length * SKIN_SHARE)] ?? NaN),
  );
  return { from, to, length, axes, radii, greatest: radii.reduce((most, radius) => Math.max(most, radius), 0) };
}

/**
 * Points all over some triangles, no further apart than `spacing` metres: a box has corners alone, and its sides are nearer
 * than they.
 */
export function spreadOver(places: Float64Array, triangles: Uint32Array, spacing: number): Float64Array {
  const out: number[] = [];
  const corner = (index: number): Vec3 => [places[index * 3], places[index * 3 + 1], places[index * 3 + 2]];
  for (let at = 0; at < triangles.length; at += 3) {
    const [a, b, c] = [corner(triangles[at]), corner(triangles[at + 1]), corner(triangles[at + 2])];
    const longest = Math.max(distance(a, b), distance(b, c), distance(c, a));
    const steps = Math.max(1, Math.min(MOST_STEPS, Math.ceil(longest / spacing)));
    for (let i = 0; i <= steps; i++)
      for (let j = 0; j <= steps - i; j++) {
        const [u, v] = [i / steps, j / steps];
        for (let k = 0; k < 3; k++) out.push(a[k] + (b[k] - a[k]) * u + (c[k] - a[k]) * v);
      }
  }
  return Float64Array.from(out);
}

/** Of a triangle's sides. */
const MOST_STEPS = 24;

function fieldOf(
  away: Vec3,
  [along, across, third]: RadialWall['axes'],
  length: number,
): { readonly field: number; readonly radius: number } {
  const [u, v, w] = [along, across, third].map((axis) => away[0] * axis[0] + away[1] * axis[1] + away[2] * axis[2]);
  const slice = Math.max(0, Math.min(SLICES - 1, Math.floor((u / length) * SLICES)));
  const sector = Math.floor(((Math.atan2(w, v) / (2 * Math.PI) + 1) % 1) * SECTORS) % SECTORS;
  const beyond = Math.max(0, -u, u - length);
  return { field: slice * SECTORS + sector, radius: Math.hypot(v, w, beyond) };
}

/** Fields without a vertex take what is around them in their slice, slices without one what is next to them. */
function filled(values: number[]): Float64Array {
  const out = Float64Array.from(values);
  const at = (slice: number, sector: number): number => values[slice * SECTORS + ((sector + SECTORS) % SECTORS)] ?? NaN;
  const found = (candidates: readonly number[]): number => candidates.find((value) => !Number.isNaN(value)) ?? NaN;
  for (let slice = 0; slice < SLICES; slice++)
    for (let sector = 0; sector < SECTORS; sector++) {
      const field = slice * SECTORS + sector;
      if (!Number.isNaN(out[field])) continue;
      const around = Array.from({ length: SECTORS / 2 + 1 }, (_, step) => [
        at(slice, sector + step),
        at(slice, sector - step),
      ]);
      const beside = Array.from({ length: SLICES }, (_, step) => [at(slice + step, sector), at(slice - step, sector)]);
      const value = found([...around.flat(), ...beside.flat()]);
      // A part without any skin there is not touched.
      out[field] = Number.isNaN(value) ? 0 : value;
    }
  return out;
}

/**
 * How far outside the skin a point is, metres; negative inside.
 * @param joint and turn of the bone `from` in the frame.
 */
export function outsideWall({ axes, length, radii }: RadialWall, point: Vec3, joint: Vec3, turn: Quat): number {
  const { field, radius } = fieldOf(rotate(conjugate(turn), subtract(point, joint)), axes, length);
  return radius - radii[field];
}
