import type { NameReadings } from '../../dialect/read-names';
import { distance } from '../../math/vec3';
import type { RigShape } from '../../rig/rig-shape';
import { strongestPart } from '../names/name-score';
import type { Riding } from '../witness/riding';
import { byCentrality, mostCentral } from './central-bone';
import { inMiddle } from './in-middle';
import { calledIn, strangeness } from './likely-parents';

/** Weight of the way already travelled: near 1 bones hang on what leads to them, not on whatever stands next to them. */
const WAY_WEIGHT = 0.85;

/** What hangs on a bone with this many children may just have been put there: it tells nothing about the body. */
const CROWDED = 6;

/** Whether the rig itself hangs a bone on another one that few others hang on. */
const isLink = (shape: RigShape, above: number, below: number): boolean =>
  shape.parents[below] === above && shape.children[above].length < CROWDED;

/** What is left of a way that the rig's own tree goes too: a flat rig may be flat in parts only. */
const LINKED = 0.2;
/** What is left of a way along a bone's own axis. */
export const POINTED = 0.3;

/** What beside places and names shows which bone leads to which. */
export interface GrowthHints {
  /** The bone that each one points at; null where the rig's bones show no axis. */
  readonly pointedAt: Int32Array | null;
  /** What the clips say against a bone hanging on another one; null where there are none. */
  readonly riding: Riding | null;
}

/**
 * A tree over places, grown outward from the hips: each bone takes the parent that is near and itself near the hips.
 * Names keep arms from growing out of thighs they hang beside.
 * Source: the trade-off between shortest-path and minimum spanning trees (Alpert et al. 1995).
 */
export function growFromMiddle(
  shape: RigShape,
  names: NameReadings,
  { pointedAt, riding }: GrowthHints,
  given: number | null = null,
): Int32Array {
  const count = shape.boneCount;
  const parents = new Int32Array(count).fill(-1);
  const ways = new Float64Array(count).fill(Infinity);
  const costs = new Float64Array(count).fill(Infinity);
  const isDone = new Uint8Array(count);
  const called = calledIn(names);
  const pointedBy = pointedAt && reversed(pointedAt);
  const start = given ?? startsIn(shape, names, pointedAt)[0];
  ways[start] = 0;
  costs[start] = 0;
  for (let round = 0; round < count; round++) {
    let next = -1;
    for (let bone = 0; bone < count; bone++) if (!isDone[bone] && (next < 0 || costs[bone] < costs[next])) next = bone;
    isDone[next] = 1;
    for (let bone = 0; bone < count; bone++) {
      if (isDone[bone]) continue;
      const isLinked = isLink(shape, next, bone) || isLink(shape, bone, next);
      const step =
        distance(shape.positions[next], shape.positions[bone]) *
        (isLinked ? LINKED : pointedAt?.[next] === bone ? POINTED : 1);
      // What another bone points at waits for that one.
      const waits = pointedBy && pointedBy[bone] >= 0 && pointedBy[bone] !== next && !isLinked ? AWAITED : 0;
      const cost =
        (waits + (riding?.(next, bone) ?? 0)) * shape.size +
        step +
        WAY_WEIGHT * ways[next] +
        strangeness(names, called, next, bone) * shape.size;
      if (cost < costs[bone]) {
        costs[bone] = cost;
        ways[bone] = ways[next] + step;
        parents[bone] = next;
      }
    }
  }
  return parents;
}

/** What it costs to take a bone that another one points at, as a share of the rig's size. */
const AWAITED = 0.25;

/** The bone that points at each one; -1 where none does, or more than one. */
function reversed(pointedAt: Int32Array): Int32Array {
  const by = new Int32Array(pointedAt.length).fill(-1);
  const counts = new Int32Array(pointedAt.length);
  pointedAt.forEach((target, bone) => {
    if (target < 0) return;
    by[target] = bone;
    counts[target]++;
  });
  return by.map((bone, target) => (counts[target] === 1 ? bone : -1));
}

/** Where the body may start that no name tells, at most. */
const MOST_STARTS = 5;

/**
 * Bones from which a body may be grown, the likeliest first: the one called hips, else of those called a part of the
 * trunk the one nearest to all others; where nothing is called so, several of the middle, for the search to decide.
 */
export function startsIn(shape: RigShape, names: NameReadings, pointedAt: Int32Array | null): number[] {
  const named = names.bones.findIndex(
    (reading) => (reading.body.hips ?? 0) >= 0.9 && reading.side === null && Object.keys(reading.other).length === 0,
  );
  if (named >= 0) return [named];
  const all = [...shape.parents.keys()];
  const trunk = all.filter((bone) => TRUNK.has(strongestPart(names.bones[bone]) ?? ''));
  if (trunk.length > 0) return [leadOf(shape, mostCentral(shape, trunk))];
  const uncalled = all.filter((bone) => strongestPart(names.bones[bone]) === null);
  const isSilent = uncalled.length === all.length;
  if (!isSilent) return [leadOf(shape, mostCentral(shape, uncalled.length > 0 ? uncalled : all))];
  const byDistance = byCentrality(shape, inMiddle(shape, all));
  const run = pointedAt ? [startOfRun(shape, pointedAt, leadOf(shape, byDistance[0]))] : [];
  return [...new Set([...run, ...byDistance.map((bone) => leadOf(shape, bone)), ...byDistance])].slice(0, MOST_STARTS);
}

/** What hangs on another bone is led by it: a head may be nearer to all others than the hips below it. */
function leadOf(shape: RigShape, bone: number): number {
  let lead = bone;
  while (shape.parents[lead] >= 0 && shape.children[shape.parents[lead]].length < CROWDED) lead = shape.parents[lead];
  return lead;
}

/** Back along the bones of the middle that point at one another: where the run up the body starts. */
function startOfRun(shape: RigShape, pointedAt: Int32Array, from: number): number {
  const middle = inMiddle(shape, [...shape.parents.keys()]);
  let [start, steps] = [from, 0];
  for (; steps < shape.boneCount; steps++) {
    const before = middle.find((bone) => pointedAt[bone] === start);
    if (before === undefined) break;
    start = before;
  }
  return start;
}

const TRUNK: ReadonlySet<string> = new Set(['hips', 'spine', 'chest']);
