/** A motion on the map: where it stands says at which speed it is played alone. */
export interface MapNode {
  /** Key of the motion: an id of the shelf, or "house-walk". */
  readonly key: string;
  /** Metres a second, to the left and ahead. */
  readonly side: number;
  readonly ahead: number;
}

export type Triangle = readonly [number, number, number];

/** Nearer than this two motions stand at one place, metres a second. */
const SAME = 1e-6;

/**
 * Delaunay triangles of the map by their definition: no motion lies within the circle of three others. A map has some ten
 * motions, so all triples are tried. Source: de Berg et al. 2008, Computational Geometry, 9.2.
 */
export function triangulate(given: readonly MapNode[]): Triangle[] {
  // Four on one circle have two ways to be cut: a shift too small to be seen chooses one.
  const nodes = given.map((node, at) => ({
    ...node,
    side: node.side + JITTER * Math.sin(at * 12.9898),
    ahead: node.ahead + JITTER * Math.sin(at * 78.233 + 1),
  }));
  const out: Triangle[] = [];
  for (let i = 0; i < nodes.length; i++)
    for (let j = i + 1; j < nodes.length; j++)
      for (let k = j + 1; k < nodes.length; k++) {
        const circle = circleOf(nodes[i], nodes[j], nodes[k]);
        if (!circle) continue;
        const isIn = ({ side, ahead }: MapNode): boolean =>
          (side - circle.x) ** 2 + (ahead - circle.y) ** 2 < circle.square;
        if (!nodes.some((node, at) => at !== i && at !== j && at !== k && isIn(node))) out.push([i, j, k]);
      }
  return out;
}

/** Metres a second. */
const JITTER = 1e-6;

/** Three in a line have no circle. */
const FLAT = 1e-4;

function circleOf(a: MapNode, b: MapNode, c: MapNode) {
  const [bx, by] = [b.side - a.side, b.ahead - a.ahead];
  const [cx, cy] = [c.side - a.side, c.ahead - a.ahead];
  const d = 2 * (bx * cy - by * cx);
  if (Math.abs(d) < FLAT) return null;
  const [bb, cc] = [bx * bx + by * by, cx * cx + cy * cy];
  const [ux, uy] = [(cy * bb - by * cc) / d, (bx * cc - cx * bb) / d];
  return { x: a.side + ux, y: a.ahead + uy, square: ux * ux + uy * uy };
}

/** Barycentric coordinates. */
function shares(nodes: readonly MapNode[], [i, j, k]: Triangle, side: number, ahead: number): [number, number, number] {
  const [a, b, c] = [nodes[i], nodes[j], nodes[k]];
  const d = (b.ahead - c.ahead) * (a.side - c.side) + (c.side - b.side) * (a.ahead - c.ahead);
  const u = ((b.ahead - c.ahead) * (side - c.side) + (c.side - b.side) * (ahead - c.ahead)) / d;
  const v = ((c.ahead - a.ahead) * (side - c.side) + (a.side - c.side) * (ahead - c.ahead)) / d;
  return [u, v, 1 - u - v];
}

/** How much of each motion is played at a speed; they add up to 1. Beyond the map its nearest edge counts. */
export function mapWeights(
  nodes: readonly MapNode[],
  triangles: readonly Triangle[],
  side: number,
  ahead: number,
): Float64Array {
  const out = new Float64Array(nodes.length);
  for (const triangle of triangles) {
    const parts = shares(nodes, triangle, side, ahead);
    if (parts.some((part) => part < -1e-5)) continue;
    const whole = parts.reduce((sum, part) => sum + Math.max(0, part), 0);
    triangle.forEach((node, at) => (out[node] = Math.max(0, parts[at]) / whole));
    return out;
  }
  const edges: (readonly [number, number])[] =
    triangles.length > 0
      ? triangles.flatMap(([i, j, k]) => [[i, j] as const, [j, k] as const, [k, i] as const])
      : nodes.flatMap((_, i) => nodes.slice(i).map((__, step) => [i, i + step] as const));
  let best = { away: Infinity, from: 0, to: 0, share: 0 };
  for (const [from, to] of edges) {
    const [a, b] = [nodes[from], nodes[to]];
    const [dx, dy] = [b.side - a.side, b.ahead - a.ahead];
    const length = dx * dx + dy * dy;
    const along = length < SAME ? 0 : ((side - a.side) * dx + (ahead - a.ahead) * dy) / length;
    const share = Math.max(0, Math.min(1, along));
    const away = Math.hypot(side - a.side - dx * share, ahead - a.ahead - dy * share);
    if (away < best.away) best = { away, from, to, share };
  }
  out[best.to] += best.share;
  out[best.from] += 1 - best.share;
  return out;
}
