import { add, cross, distance, dot, lengthOf, normalise, scale, subtract, type Vec3 } from '@/core/math/vec3';

/** Where along a path a bone begins to lead, 0 to 1. */
interface Lead {
  readonly bone: string;
  readonly at: number;
}

export interface PartMesh {
  readonly material: string;
  readonly positions: number[];
  readonly normals: number[];
  readonly uvs: number[];
  readonly indices: number[];
  /** Per vertex: up to four bones with weights that add up to 1. */
  readonly weights: { bone: string; weight: number }[][];
}

export interface TubeOptions {
  readonly material: string;
  readonly path: readonly Vec3[];
  /** Half widths across and deep, one pair per path point. */
  readonly radii: readonly (readonly [across: number, deep: number])[];
  readonly leads: readonly Lead[];
  /** Share of the path over which neighbouring bones blend. */
  readonly blend: number;
  readonly sides?: number;
  readonly rings?: number;
  /** Direction that "deep" radii point to. */
  readonly front?: Vec3;
  readonly openStart?: boolean;
  readonly openEnd?: boolean;
}

const smooth = (t: number): number => t * t * (3 - 2 * t);
const clamp01 = (t: number): number => Math.max(0, Math.min(1, t));

/** Smooth weights of a point at share `t` of a path: each lead hands over to the next across the blend. */
function weightsAt(leads: readonly Lead[], t: number, blend: number): { bone: string; weight: number }[] {
  const out = new Map<string, number>();
  leads.forEach((lead, index) => {
    const rise = index === 0 ? 1 : smooth(clamp01((t - lead.at) / blend + 0.5));
    const next = leads[index + 1];
    const fall = next ? 1 - smooth(clamp01((t - next.at) / blend + 0.5)) : 1;
    const weight = rise * fall;
    if (weight > 1e-4) out.set(lead.bone, (out.get(lead.bone) ?? 0) + weight);
  });
  const sum = [...out.values()].reduce((total, weight) => total + weight, 0);
  return [...out]
    .map(([bone, weight]) => ({ bone, weight: weight / sum }))
    .sort((a, b) => b.weight - a.weight)
    .slice(0, 4);
}

/** Catmull-Rom through the points, with the widths interpolated alike. Source: Catmull & Rom 1974. */
function sample(values: readonly (readonly number[])[], t: number): number[] {
  const last = values.length - 1;
  const at = Math.min(last - 1e-9, t * last);
  const i = Math.floor(at);
  const u = at - i;
  const [p0, p1, p2, p3] = [values[Math.max(0, i - 1)], values[i], values[i + 1], values[Math.min(last, i + 2)]];
  return p1.map(
    (_, k) =>
      0.5 *
      (2 * p1[k] +
        (p2[k] - p0[k]) * u +
        (2 * p0[k] - 5 * p1[k] + 4 * p2[k] - p3[k]) * u * u +
        (3 * p1[k] - p0[k] - 3 * p2[k] + p3[k]) * u * u * u),
  );
}

/** A lofted tube along a path: limbs, torsos, coats, fingers. */
export function tube(options: TubeOptions): PartMesh {
  const sides = options.sides ?? 14;
  const rings = options.rings ?? Math.max(8, (options.path.length - 1) * 6);
  const front = options.front ?? [0, 0, 1];
  const mesh: PartMesh = { material: options.material, positions: [], normals: [], uvs: [], indices: [], weights: [] };
  const points = Array.from({ length: rings + 1 }, (_, ring) => sample(options.path, ring / rings) as unknown as Vec3);
  const lengths = points.map((point, at) => (at === 0 ? 0 : distance(point, points[at - 1])));
  const total = lengths.reduce((sum, length) => sum + length, 0) || 1;
  let travelled = 0;
  for (let ring = 0; ring <= rings; ring++) {
    travelled += lengths[ring];
    const [across, deep] = sample(options.radii, ring / rings).map((radius) => Math.max(0.0015, radius));
    const along = normalise(subtract(points[Math.min(rings, ring + 1)], points[Math.max(0, ring - 1)])) ?? [0, 1, 0];
    const x = normalise(cross(along, front)) ?? [1, 0, 0];
    const z = cross(x, along);
    const t = travelled / total;
    for (let side = 0; side < sides; side++) {
      const angle = (side / sides) * 2 * Math.PI;
      const offset = add(scale(x, Math.cos(angle) * across), scale(z, Math.sin(angle) * deep));
      mesh.positions.push(...add(points[ring], offset));
      mesh.uvs.push(Math.abs((((side / sides) * 2) % 2) - 1) * 3, t * 4);
      mesh.weights.push(weightsAt(options.leads, t, options.blend));
    }
  }
  for (let ring = 0; ring < rings; ring++) {
    for (let side = 0; side < sides; side++) {
      const [a, b] = [ring * sides + side, ring * sides + ((side + 1) % sides)];
      const [c, d] = [a + sides, b + sides];
      mesh.indices.push(a, b, c, b, d, c);
    }
  }
  if (!options.openStart) cap(mesh, 0, sides, points[0], true, weightsAt(options.leads, 0, options.blend));
  if (!options.openEnd)
    cap(mesh, rings * sides, sides, points[rings], false, weightsAt(options.leads, 1, options.blend));
  return withNormals(mesh);
}

function cap(
  mesh: PartMesh,
  first: number,
  sides: number,
  centre: Vec3,
  isStart: boolean,
  weights: { bone: string; weight: number }[],
): void {
  const tip = mesh.weights.length;
  mesh.positions.push(...centre);
  mesh.uvs.push(0.5, 0);
  mesh.weights.push(weights);
  for (let side = 0; side < sides; side++) {
    const [a, b] = [first + side, first + ((side + 1) % sides)];
    mesh.indices.push(...(isStart ? [b, a, tip] : [a, b, tip]));
  }
}

/** An egg: heads, palms, feet, hats. `shape` may pull single points. */
export function ellipsoid(
  material: string,
  centre: Vec3,
  radii: Vec3,
  leads: readonly { bone: string; weight: number }[],
  shape: (unit: Vec3) => Vec3 = (unit) => unit,
): PartMesh {
  const [rings, sides] = [10, 16];
  const mesh: PartMesh = { material, positions: [], normals: [], uvs: [], indices: [], weights: [] };
  for (let ring = 0; ring <= rings; ring++) {
    const polar = (ring / rings) * Math.PI;
    for (let side = 0; side < sides; side++) {
      const angle = (side / sides) * 2 * Math.PI;
      const unit = shape([Math.sin(polar) * Math.cos(angle), Math.cos(polar), Math.sin(polar) * Math.sin(angle)]);
      mesh.positions.push(
        centre[0] + unit[0] * radii[0],
        centre[1] + unit[1] * radii[1],
        centre[2] + unit[2] * radii[2],
      );
      mesh.uvs.push(Math.abs((((side / sides) * 2) % 2) - 1), ring / rings);
      mesh.weights.push(leads.map((lead) => ({ ...lead })));
    }
  }
  for (let ring = 0; ring < rings; ring++) {
    for (let side = 0; side < sides; side++) {
      const [a, b] = [ring * sides + side, ring * sides + ((side + 1) % sides)];
      mesh.indices.push(a, b, a + sides, b, b + sides, a + sides);
    }
  }
  return withNormals(mesh);
}

/** Area-weighted vertex normals, turned outward from the part's middle where the winding disagrees as a whole. */
function withNormals(mesh: PartMesh): PartMesh {
  const count = mesh.weights.length;
  const at = (index: number): Vec3 => [
    mesh.positions[index * 3],
    mesh.positions[index * 3 + 1],
    mesh.positions[index * 3 + 2],
  ];
  const sums: Vec3[] = Array.from({ length: count }, () => [0, 0, 0]);
  let volume = 0;
  for (let i = 0; i < mesh.indices.length; i += 3) {
    const [a, b, c] = [mesh.indices[i], mesh.indices[i + 1], mesh.indices[i + 2]];
    const face = cross(subtract(at(b), at(a)), subtract(at(c), at(a)));
    volume += dot(at(a), cross(at(b), at(c)));
    for (const index of [a, b, c]) sums[index] = add(sums[index], face);
  }
  if (volume < 0) {
    for (let i = 0; i < mesh.indices.length; i += 3)
      [mesh.indices[i + 1], mesh.indices[i + 2]] = [mesh.indices[i + 2], mesh.indices[i + 1]];
  }
  for (const sum of sums) {
    const unit = lengthOf(sum) > 0 ? (normalise(scale(sum, volume < 0 ? -1 : 1)) ?? [0, 1, 0]) : [0, 1, 0];
    mesh.normals.push(...unit);
  }
  return mesh;
}
