import type { Definition } from '../definition/definition';
import { DIGITS, digitRoles, sideOfRole, type Digit } from '../definition/definition';
import { isRun, type BoneSlot } from './line-slots';
import { slotOfRole, slotsOfLine, type Slot } from './motion';

/** Where a bone's turn comes from: two slots of the motion and the share of the second; -1 for no turn at all. */
export interface SlotSource {
  readonly boneIndex: number;
  readonly role: string | null;
  readonly from: number;
  readonly to: number;
  readonly share: number;
}

const same = ({ boneIndex, role }: BoneSlot, slot: number): SlotSource => ({
  boneIndex,
  role,
  from: slot,
  to: slot,
  share: 0,
});

/**
 * Which slots of a motion turn which bones of a character. Limbs go role by role. Runs of as many joints go one by one;
 * others are sampled along the line, from the turn of what the line hangs on at 0 to that of its last joint at 1. A digit
 * that the source does not have moves as its neighbours do; a thumb has none. Bones that are not listed ride along.
 */
export function slotSources(
  definition: Definition,
  slots: readonly Slot[],
  targets: readonly BoneSlot[],
): SlotSource[] {
  return definition.lines.flatMap((line) => {
    const own = targets.filter((target) => target.line === line.id);
    if (!isRun(line.roles)) {
      return own.flatMap((target) => {
        const slot = target.role === null ? -1 : slotOfRole(slots, target.role);
        return slot < 0 ? [] : [same(target, slot)];
      });
    }
    const hips = own.filter(({ role }) => role === 'hips');
    const led = hips.flatMap((target) => {
      const slot = slotOfRole(slots, 'hips');
      return slot < 0 ? [] : [same(target, slot)];
    });
    const run = own.filter(({ role }) => role !== 'hips');
    const found = slotsOfLine(slots, line.id).filter((slot) => slots[slot].role !== 'hips');
    if (found.length === 0) return [...led, ...digitOfNeighbours(definition, slots, line.roles, run)];
    return [...led, ...alongRun(definition, slots, line.roles, found, run)];
  });
}

function alongRun(
  definition: Definition,
  slots: readonly Slot[],
  roles: readonly string[],
  found: readonly number[],
  run: readonly BoneSlot[],
): SlotSource[] {
  if (found.length === run.length) return run.map((target, at) => same(target, found[at]));
  const marks = marksAlong(definition, slots, roles, found);
  // Digits of two joints and more keep their first one as it is: what is shared out is the curl from there on.
  const isFirstKept = isDigit(definition, roles) && found.length > 1 && run.length > 1;
  if (isFirstKept) marks.shift();
  const fromFirst = (u: number, first: number) =>
    isFirstKept && first < 1 ? Math.max(0, (u - first) / (1 - first)) : u;
  for (const mark of marks) mark.u = fromFirst(mark.u, slots[found[0]].u);
  return run.map((given) => {
    const target = { ...given, u: fromFirst(given.u, run[0].u) };
    const after = Math.max(
      1,
      marks.findIndex(({ u }) => u >= target.u - 1e-9),
    );
    const [low, high] = [marks[after - 1], marks[after]];
    const span = high.u - low.u;
    return {
      boneIndex: target.boneIndex,
      role: target.role,
      from: low.slot,
      to: high.slot,
      share: span > 1e-9 ? Math.max(0, Math.min(1, (target.u - low.u) / span)) : 1,
    };
  });
}

/** Known turns along a line: that of what it hangs on at 0, then its joints. */
function marksAlong(
  definition: Definition,
  slots: readonly Slot[],
  roles: readonly string[],
  found: readonly number[],
): { u: number; slot: number }[] {
  const start = { u: 0, slot: slotAbove(definition, slots, roles[0]) };
  return [start, ...found.map((slot) => ({ u: slots[slot].u, slot }))];
}

const isDigit = (definition: Definition, roles: readonly string[]): boolean => {
  const side = sideOfRole(definition, roles[0]);
  return side !== null && DIGITS.some((digit) => roles[0].startsWith(side + digit));
};

/** Slot of what a line hangs on; -1 where the motion knows nothing above it. */
function slotAbove(definition: Definition, slots: readonly Slot[], role: string): number {
  // What stands below the hips on their own line hangs on them.
  const above = (id: string) => definition.roles.find((each) => each.id === id)?.parent ?? null;
  for (let at = role === 'hips' ? 'hips' : above(role); at !== null; at = above(at)) {
    const slot = slotOfRole(slots, at);
    if (slot >= 0) return slot;
  }
  return -1;
}

/** Fingers that the source lacks move as the nearest ones beside them. */
function digitOfNeighbours(
  definition: Definition,
  slots: readonly Slot[],
  roles: readonly string[],
  run: readonly BoneSlot[],
): SlotSource[] {
  const side = sideOfRole(definition, roles[0]);
  const digit = side && DIGITS.find((each) => roles[0].startsWith(side + each));
  if (!side || !digit || digit === 'Thumb') return [];
  const fingers = DIGITS.filter((each) => each !== 'Thumb');
  const at = fingers.indexOf(digit);
  const slotsOf = (other: Digit) => slotsOfLine(slots, `${side}${other}`);
  const nearest = (order: readonly Digit[]) => order.find((other) => slotsOf(other).length > 0);
  const [before, after] = [nearest(fingers.slice(0, at).reverse()), nearest(fingers.slice(at + 1))];
  const [low, high] = [before ?? after, after ?? before];
  if (!low || !high) return [];
  const sourcesOf = (other: Digit) => alongRun(definition, slots, digitRoles(side, other), slotsOf(other), run);
  const [lows, highs] = [sourcesOf(low), sourcesOf(high)];
  // Between two fingers the turn is the middle of theirs, joint by joint.
  return run.map((target, each) => ({
    boneIndex: target.boneIndex,
    role: target.role,
    from: nearestSlot(lows[each]),
    to: nearestSlot(highs[each]),
    share: low === high ? 0 : 0.5,
  }));
}

const nearestSlot = ({ from, to, share }: SlotSource): number => (share < 0.5 ? from : to);
