import type { Definition } from '../../definition/definition';
import { YarvoError } from '../../errors/yarvo-error';
import { writeProduct, writeSlerp } from '../../math/quat-arrays';
import { contactAt, type Contact, type Motion, type Slot } from '../motion';
import { keepSigns, mapFrameArrays } from './frame-arrays';
import { cut, placedAfter, poseDistance, withoutOwn } from './placing';

/** Seconds at the end of one motion and the start of the next in which their joint is looked for. */
const SEARCHED = 1;
/** What a foot that is down in one and up in the other counts, radians. */
const FOOT_PENALTY = 0.5;

const easeOf = (t: number): number => t * t * (3 - 2 * t);

/**
 * One motion and then another, turned and moved to go on from it; over `blend` frames both at once, the second more and
 * more.
 *
 * @throws {YarvoError} `other-rate`, `other-definition`, or `bad-edit` where the motions are shorter than the blend.
 */
export function appendMotion(
  first: Motion,
  next: Motion,
  { blend, isMatching }: { readonly blend: number; readonly isMatching: boolean },
  definition: Definition,
): Motion {
  checkAlike(first, next);
  const second = withSlotsOf(first.slots, next, definition);
  const [a, b] = withSameParts(withoutOwn(first), second);
  if (blend >= first.frameCount || blend >= second.frameCount)
    throw new YarvoError({
      code: 'bad-edit',
      message: `The blend of ${blend} frames is longer than "${blend >= first.frameCount ? first.name : next.name}".`,
      place: first.name,
      remedy: `Blend over ${Math.min(first.frameCount, second.frameCount) - 1} frames or fewer.`,
    });
  const [end, start] = isMatching ? findJoint(first, second, blend) : [first.frameCount - 1, 0];
  return crossfaded(cut(a, 0, end), cut(b, start, second.frameCount - 1), blend);
}

/**
 * The frames of a span, its end led over into its start: over the last `blend` frames into what comes before the span,
 * so that place and speed agree; where nothing comes before it, by what is left between them.
 */
export function loopMotion(motion: Motion, from: number, to: number, blend: number): Motion {
  const over = Math.min(blend, from);
  const body = withoutOwn(cut(motion, from, to));
  if (over > 0) {
    const lead = withoutOwn(cut(motion, from - over, from));
    return crossfaded(body, lead, over);
  }
  return blend > 0 ? closed(body, Math.min(blend, body.frameCount - 1)) : body;
}

function checkAlike(first: Motion, next: Motion): void {
  const [a, b] = [first.framesPerSecond, next.framesPerSecond];
  if (Math.abs(a - b) > 1e-6 * a)
    throw new YarvoError({
      code: 'other-rate',
      message: `"${first.name}" has ${rateText(a)} frames a second, "${next.name}" ${rateText(b)}.`,
      place: next.name,
      remedy: `Change the rate of one of them to the other's, ${rateText(a)}.`,
    });
  const [p, q] = [first.definition, next.definition];
  if (p.id !== q.id || p.version !== q.version)
    throw new YarvoError({
      code: 'other-definition',
      message: `"${next.name}" is told against ${q.id}, version ${q.version}; "${first.name}" against ${p.id}, version ${p.version}.`,
      place: next.name,
      remedy: 'Read both against one definition.',
    });
}

const rateText = (rate: number): string => String(Number(rate.toFixed(3)));

/** End of the first and start of the second between which they stand most alike, the same feet down. */
function findJoint(first: Motion, second: Motion, blend: number): [number, number] {
  const half = Math.floor(blend / 2);
  const window = Math.round(SEARCHED * first.framesPerSecond);
  const step = Math.max(1, Math.round(first.framesPerSecond / 60));
  let best: [number, number] = [first.frameCount - 1, 0];
  let least = Infinity;
  const earliest = Math.max(blend, first.frameCount - 1 - Math.min(window, first.frameCount >> 1));
  const latest = Math.min(second.frameCount - 1 - blend, Math.min(window, second.frameCount >> 1));
  for (let end = first.frameCount - 1; end >= earliest; end -= step)
    for (let start = 0; start <= latest; start += step) {
      const [a, b] = [end - half, start + half];
      const unlike = poseDistance(first, a, second, b) + FOOT_PENALTY * unlikeFeet(first, a, second, b);
      if (unlike < least - 1e-9) [least, best] = [unlike, [end, start]];
    }
  return best;
}

function unlikeFeet(first: Motion, a: number, second: Motion, b: number): number {
  const bears = (motion: Motion, part: Contact['part'], frame: number): boolean =>
    contactAt(motion.contacts, part, frame) !== null;
  return (['leftFoot', 'rightFoot'] as const).filter((part) => bears(first, part, a) !== bears(second, part, b)).length;
}

/** The last `blend` frames of the first are also the first ones of the second. */
function crossfaded(first: Motion, next: Motion, blend: number): Motion {
  const half = Math.floor(blend / 2);
  const base = first.frameCount - 1 - blend;
  const second = placedAfter(next, half, first, base + half);
  const count = first.frameCount + second.frameCount - 1 - blend;
  const others = arraysOf(second);
  let which = 0;
  const joined = mapFrameArrays(first, ({ values, size, isTurns }) => {
    const other = others[which++];
    const out = new Float32Array(count * size);
    out.set(values.subarray(0, (base + 1) * size));
    for (let frame = base + 1; frame < count; frame++) {
      const [at, from] = [frame * size, (frame - base) * size];
      const share = blend > 0 && frame < first.frameCount ? easeOf((frame - base) / blend) : 1;
      if (share >= 1) out.set(other.subarray(from, from + size), at);
      else if (isTurns)
        for (let k = 0; k < size; k += 4) writeSlerp(out, at + k, values, at + k, other, from + k, share);
      else for (let k = 0; k < size; k++) out[at + k] = values[at + k] * (1 - share) + other[from + k] * share;
    }
    if (isTurns) keepSigns(out, size);
    return out;
  });
  return { ...joined, contacts: joinedContacts(first.contacts, second.contacts, base, half, count) };
}

function joinedContacts(
  first: readonly Contact[],
  second: readonly Contact[],
  base: number,
  half: number,
  count: number,
): Contact[] {
  const seam = base + half;
  const before = first.flatMap((contact) =>
    contact.from > seam ? [] : [{ ...contact, to: Math.min(contact.to, seam) }],
  );
  const after = second.flatMap((contact) => {
    const [from, to] = [base + contact.from, base + contact.to];
    return to <= seam ? [] : [{ ...contact, from: Math.max(seam + 1, from), to: Math.min(count - 1, to) }];
  });
  // A foot that is down on both sides of the joint stays down.
  const merged: Contact[] = [...before];
  for (const contact of after) {
    const at = merged.findIndex((each) => each.part === contact.part && each.to === contact.from - 1);
    if (at >= 0) merged[at] = { ...merged[at], to: contact.to };
    else merged.push(contact);
  }
  return merged.sort((a, b) => a.from - b.from);
}

/** Arrays in the order in which they are mapped. */
function arraysOf(motion: Motion): Float32Array[] {
  const arrays: Float32Array[] = [];
  mapFrameArrays(motion, ({ values }) => {
    arrays.push(values);
    return values;
  });
  return arrays;
}

/** What is left between end and start is spread over the last frames; travel and heading go on. */
function closed(motion: Motion, blend: number): Motion {
  const last = motion.frameCount - 1;
  const goal = placedAfter(motion, 0, motion, last);
  const goals = arraysOf(goal);
  let which = 0;
  return mapFrameArrays(motion, ({ values, size, isTurns }) => {
    const other = goals[which++];
    const out = values.slice();
    const [undo, step] = [new Float64Array(4), new Float64Array(4)];
    for (let frame = last - blend; frame <= last; frame++) {
      const share = easeOf((frame - (last - blend)) / blend);
      const at = frame * size;
      for (let k = 0; k < size; k += isTurns ? 4 : 1)
        if (isTurns) {
          // What takes the end to the start, b a^-1, and the share of it, before what is there.
          const end = last * size + k;
          undo.set([-values[end], -values[end + 1], -values[end + 2], values[end + 3]]);
          writeProduct(step, 0, other, k, undo, 0);
          writeSlerp(step, 0, STILL, 0, step, 0, share);
          writeProduct(out, at + k, step, 0, out, at + k);
        } else out[at + k] += (other[k] - values[last * size + k]) * share;
    }
    if (isTurns) keepSigns(out, size);
    return out;
  });
}

const STILL = [0, 0, 0, 1];

/** A motion told by the joints of another: those it lacks ride along with what they hang on. */
function withSlotsOf(slots: readonly Slot[], motion: Motion, definition: Definition): Motion {
  const own = motion.slots;
  const source = slots.map((slot) => slotFor(slot, own, definition));
  const { frameCount } = motion;
  const rotations = new Float32Array(frameCount * slots.length * 4);
  for (let frame = 0; frame < frameCount; frame++)
    source.forEach((from, at) => {
      const out = (frame * slots.length + at) * 4;
      if (from < 0) rotations[out + 3] = 1;
      else {
        const start = (frame * own.length + from) * 4;
        rotations.set(motion.rotations.subarray(start, start + 4), out);
      }
    });
  return { ...motion, slots: [...slots], rotations, own: null };
}

/** Sliding joints, morphs and a root that one of two motions has, at rest in the other. */
function withSameParts(first: Motion, second: Motion): [Motion, Motion] {
  const roles = [...new Set([...first.shifts, ...second.shifts].map(({ role }) => role))];
  const names = [...new Set([...first.morphs, ...second.morphs].map(({ name }) => name))];
  const hasRoot = first.root !== null || second.root !== null;
  const whole = (motion: Motion): Motion => ({
    ...motion,
    shifts: roles.map(
      (role) =>
        motion.shifts.find((shift) => shift.role === role) ?? { role, values: new Float32Array(motion.frameCount * 3) },
    ),
    morphs: names.map(
      (name) =>
        motion.morphs.find((morph) => morph.name === name) ?? { name, weights: new Float32Array(motion.frameCount) },
    ),
    root: hasRoot ? (motion.root ?? stillRoot(motion.frameCount)) : null,
  });
  return [whole(first), whole(second)];
}

function stillRoot(frameCount: number): NonNullable<Motion['root']> {
  const rotations = new Float32Array(frameCount * 4);
  for (let at = 3; at < rotations.length; at += 4) rotations[at] = 1;
  return { places: new Float32Array(frameCount * 3), rotations };
}

function slotFor(slot: Slot, own: readonly Slot[], definition: Definition): number {
  const exact = own.findIndex(({ line, role }) => line === slot.line && role !== null && role === slot.role);
  if (exact >= 0) return exact;
  const onLine = own.flatMap((each, index) =>
    each.line === slot.line ? [{ index, far: Math.abs(each.u - slot.u) }] : [],
  );
  if (onLine.length > 0) return onLine.reduce((a, b) => (b.far < a.far ? b : a)).index;
  const first = definition.lines.find(({ id }) => id === slot.line)?.roles[0] ?? null;
  const parentOf = (role: string) => definition.roles.find(({ id }) => id === role)?.parent ?? null;
  for (let at = first && parentOf(first); at !== null && at !== undefined; at = parentOf(at)) {
    const found = own.findIndex(({ role }) => role === at);
    if (found >= 0) return found;
  }
  return own.findIndex(({ role }) => role === 'hips');
}
