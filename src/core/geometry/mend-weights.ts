import { PointGrid } from './point-grid';

/** Weights of a mesh that are changed in place: [vertexCount x perVertex], 0 for an unused place. */
export interface WeightTable {
  readonly perVertex: number;
  readonly joints: Uint16Array;
  readonly weights: Float32Array;
}

/** Gives the weights of a joint to another one, at the vertices that are asked for; -1 drops them. */
export function moveWeights(
  table: WeightTable,
  partnerOf: ReadonlyMap<number, number>,
  isMeant: (vertex: number, joint: number) => boolean,
): void {
  const { perVertex, joints, weights } = table;
  for (let at = 0; at < weights.length; at++) {
    if (weights[at] <= 0) continue;
    const partner = partnerOf.get(joints[at]);
    const vertex = Math.floor(at / perVertex);
    if (partner === undefined || !isMeant(vertex, joints[at])) continue;
    const first = vertex * perVertex;
    let same = -1;
    for (let other = first; other < first + perVertex; other++)
      if (other !== at && weights[other] > 0 && joints[other] === partner) same = other;
    if (partner < 0) [joints[at], weights[at]] = [0, 0];
    else if (same < 0) joints[at] = partner;
    else {
      weights[same] += weights[at];
      [joints[at], weights[at]] = [0, 0];
    }
  }
}

/**
 * Takes the weights of a joint away: they go to another one where that moves what is nearest, and elsewhere the vertex
 * follows the nearest one that is not concerned. A hand that hangs on the root is the hand's, not the hips'.
 * @param partnerOf joint -> the one that takes its weights. @param places [vertexCount x 3]
 */
export function moveOrFollow(table: WeightTable, partnerOf: ReadonlyMap<number, number>, places: Float32Array): void {
  if (partnerOf.size === 0) return;
  const { perVertex, joints, weights } = table;
  const count = weights.length / perVertex;
  const slots = (vertex: number): number[] =>
    Array.from({ length: perVertex }, (_, slot) => vertex * perVertex + slot).filter((at) => weights[at] > 0);
  const all = Array.from({ length: count }, (_, vertex) => vertex);
  const meant = new Set(all.filter((vertex) => slots(vertex).some((at) => partnerOf.has(joints[at]))));
  const others = all.filter((vertex) => !meant.has(vertex) && slots(vertex).length > 0);
  const grid = new PointGrid(places, others);
  const partners = new Set(partnerOf.values());
  const following = new Map<number, number>();
  for (const vertex of meant) {
    const nearest = grid.nearestTo(vertex);
    if (nearest >= 0 && !slots(nearest).some((at) => partners.has(joints[at]))) following.set(vertex, nearest);
  }
  moveWeights(table, partnerOf, (vertex) => !following.has(vertex));
  for (const [vertex, nearest] of following) {
    for (const at of slots(vertex)) if (partnerOf.has(joints[at])) [joints[at], weights[at]] = [0, 0];
    if (slots(vertex).length === 0) copyVertex(table, nearest, vertex);
  }
}

/** Drops weights below a least one; the strongest of a vertex stays. */
export function pruneWeights({ perVertex, joints, weights }: WeightTable, least: number): void {
  for (let first = 0; first < weights.length; first += perVertex) {
    const strongest = strongestOf(weights, first, perVertex);
    for (let at = first; at < first + perVertex; at++)
      if (at !== strongest && weights[at] < least) [joints[at], weights[at]] = [0, 0];
  }
}

/** Keeps the strongest influences of each vertex. Equal ones are kept in their order. */
export function reduceInfluences({ perVertex, joints, weights }: WeightTable, most: number): void {
  if (most >= perVertex) return;
  const order = Array.from({ length: perVertex }, (_, slot) => slot);
  for (let first = 0; first < weights.length; first += perVertex) {
    const kept = [...order].sort((a, b) => weights[first + b] - weights[first + a] || a - b).slice(0, most);
    for (const slot of order) if (!kept.includes(slot)) [joints[first + slot], weights[first + slot]] = [0, 0];
  }
}

/** Divides the weights of each vertex by their sum; vertices without any stay so. */
export function normaliseWeights({ perVertex, weights }: WeightTable): void {
  for (let first = 0; first < weights.length; first += perVertex) {
    let sum = 0;
    for (let at = first; at < first + perVertex; at++) sum += weights[at];
    if (sum > 0) for (let at = first; at < first + perVertex; at++) weights[at] /= sum;
  }
}

/** Gives vertices without weight those of the nearest vertex that has some. @param places [vertexCount x 3] */
export function bindLoose(table: WeightTable, places: Float32Array): void {
  const { perVertex, weights } = table;
  const count = weights.length / perVertex;
  const isLoose = (vertex: number): boolean => {
    for (let at = vertex * perVertex; at < (vertex + 1) * perVertex; at++) if (weights[at] > 0) return false;
    return true;
  };
  const all = Array.from({ length: count }, (_, vertex) => vertex);
  const loose = all.filter(isLoose);
  const bound = loose.length === count ? [] : all.filter((vertex) => !isLoose(vertex));
  const grid = new PointGrid(places, bound);
  for (const vertex of loose) {
    const found = grid.nearestTo(vertex);
    // Where no distance can be told any one will do.
    const nearest = found >= 0 ? found : (bound[0] ?? -1);
    if (nearest < 0) continue;
    copyVertex(table, nearest, vertex);
  }
}

function copyVertex({ perVertex, joints, weights }: WeightTable, from: number, to: number): void {
  for (const array of [joints, weights]) array.copyWithin(to * perVertex, from * perVertex, (from + 1) * perVertex);
}

function strongestOf(weights: Float32Array, first: number, perVertex: number): number {
  let strongest = first;
  for (let at = first; at < first + perVertex; at++) if (weights[at] > weights[strongest]) strongest = at;
  return strongest;
}
