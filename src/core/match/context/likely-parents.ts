import type { BodyConcept } from '../../dialect/concepts';
import type { NameReadings } from '../../dialect/read-names';
import { strongestPart } from '../names/name-score';

/** Parts that a part may hang on, by what names call them; the likelier first. */
const ABOVE: Partial<Record<BodyConcept, readonly BodyConcept[]>> = {
  spine: ['spine', 'hips'],
  chest: ['spine', 'chest', 'hips'],
  neck: ['neck', 'chest', 'spine'],
  head: ['neck', 'chest', 'spine'],
  jaw: ['head'],
  eye: ['head'],
  shoulder: ['chest', 'spine', 'neck'],
  upperArm: ['shoulder', 'chest', 'spine', 'neck', 'upperArm'],
  lowerArm: ['upperArm', 'lowerArm'],
  hand: ['lowerArm', 'upperArm'],
  thumb: ['thumb', 'hand'],
  index: ['index', 'hand'],
  middle: ['middle', 'hand'],
  ring: ['ring', 'hand'],
  little: ['little', 'hand'],
  finger: ['finger', 'hand'],
  upperLeg: ['hips', 'spine', 'upperLeg'],
  lowerLeg: ['upperLeg', 'lowerLeg'],
  foot: ['lowerLeg', 'upperLeg'],
  toes: ['foot', 'toes'],
};

/** More than any way through a body, so that a bone waits for its proper parent. */
const OUT_OF_QUESTION = 2;
/** What the next likely part costs; a bent knee brings the foot nearer to the thigh than that. */
const SECOND_CHOICE = 0.25;
/** What a bone without a word costs as the parent of a part, where the rig has a bone that is called the right one. */
const UNCALLED = 0.6;

/** "shoulder" may be the clavicle or the upper arm: a word speaks of all that it means this much. */
const MAY_MEAN = 0.6;

/** Parts that a rig's names speak of, once for the middle, once for each side: what it does not have it cannot hang on. */
export type Called = ReadonlySet<string>;

export const calledIn = (names: NameReadings): Called =>
  new Set(
    names.bones.flatMap((reading) =>
      Object.entries(reading.body).flatMap(([part, weight]) =>
        weight >= MAY_MEAN ? [`${part} ${reading.side ?? ''}`] : [],
      ),
    ),
  );

/** The parts that a part may hang on, of those that the rig has on its side or in the middle. */
const aboveIn = (called: Called, to: BodyConcept, side: string | null): readonly BodyConcept[] =>
  (ABOVE[to] ?? []).filter((part) => called.has(`${part} `) || (side !== null && called.has(`${part} ${side}`)));

/** How odd it would be for `child` to hang on `parent`, as a share of the rig's size. */
export function strangeness(names: NameReadings, called: Called, parent: number, child: number): number {
  const [above, below] = [names.bones[parent], names.bones[child]];
  const isSpareWord = Object.keys(above.other).length > 0;
  let cost = isSpareWord ? (strongestPart(below) ? 0.8 : 0.2) : 0;
  if (above.side && below.side && above.side !== below.side) cost += OUT_OF_QUESTION;
  const [from, to] = [strongestPart(above), strongestPart(below)];
  const choices = to ? aboveIn(called, to, below.side) : [];
  if (from && to) {
    const wanted = choices.length > 0 ? choices : [from];
    const rank = wanted.indexOf(from);
    const loose = wanted.findIndex((part) => (above.body[part] ?? 0) >= MAY_MEAN);
    cost += rank >= 0 ? rank * SECOND_CHOICE : loose >= 0 ? (loose + 1) * SECOND_CHOICE : OUT_OF_QUESTION;
  } else if (to && choices.some((part) => part !== to)) cost += UNCALLED;
  // A variant of a name (a twist, a share) ends where it is; the bone with the plain name leads on.
  if (above.isVariant) cost += SECOND_CHOICE;
  if (from && from === to && (above.numbers[0] ?? 0) > (below.numbers[0] ?? 0)) cost += OUT_OF_QUESTION;
  return cost;
}
