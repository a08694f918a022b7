import { SIDES, type Side } from '../../definition/definition';
import type { Vec3 } from '../../math/vec3';
import { contactAt, type Contact, type Motion } from '../../motion/motion';
import type { DrillLimits } from '../../profile/drill-limits';
import type { FigureTrack } from './figure-track';
import type { Measure } from './measure';
import { pointPlace, type Soles } from '../../ground/sole-points';

/** A contact that stands further down than this share of a leg stands on a step. */
const STEP_SHARE = 0.08;

/** Bones that soles are fixed to. */
export const soleBones = ({ points }: Soles): number[] => [
  ...new Set(Object.values(points).flatMap((list) => list.map(({ bone }) => bone))),
];

/** What a figure's feet are measured by. */
export interface FeetInput {
  readonly motion: Motion;
  readonly track: Pick<FigureTrack, 'frameCount' | 'placeOf' | 'turnOf'>;
  readonly soles: Soles;
  /** Metres. */
  readonly leg: number;
  readonly limits: DrillLimits;
  /** Names of the bones of a foot. */
  readonly namesOf: (side: Side) => readonly string[];
}

/** Height of the soles over the floor, their difference where both bear, and how far each slides in a contact. */
export function measureFeet({ motion, track, soles, leg, limits, namesOf }: FeetInput): Measure[] {
  const { frameCount } = track;
  const percent = 100 / leg;
  const known = SIDES.flatMap((side) => {
    const points = soles.points[side];
    if (!points) return [];
    const places = Array.from({ length: frameCount }, (_, frame) =>
      points.map((point) => pointPlace(point, track.placeOf(point.bone, frame), track.turnOf(point.bone, frame))),
    );
    const contacts = motion.contacts.filter(({ part }) => part === `${side}Foot`);
    return [{ side, places, contacts }];
  });
  const { floors, isStepped } = floorsOf(known, soles.floor, leg);
  const none = (): Float64Array => new Float64Array(frameCount).fill(NaN);
  const heights = new Map<Side, Float64Array>();
  const measures: Measure[] = [];
  for (const { side, places, contacts } of known) {
    const [bearing, sunk, slides] = [none(), none(), none()];
    for (let frame = 0; frame < frameCount; frame++) {
      const contact = contactAt(contacts, `${side}Foot`, frame);
      const low = Math.min(...places[frame].map((place) => place[1]));
      // Between two steps nobody knows where the floor is.
      const floor = contact ? (floors.get(contact) as number) : isStepped ? NaN : soles.floor;
      if (contact) bearing[frame] = (low - floor) * percent;
      sunk[frame] = (low - floor) * percent;
    }
    for (const contact of contacts) {
      const slid = slideOf(places, contact, leg, motion.framesPerSecond) * percent;
      for (let frame = contact.from; frame <= Math.min(contact.to, frameCount - 1); frame++) slides[frame] = slid;
    }
    heights.set(side, bearing);
    const shared = { unit: '%' as const, bones: namesOf(side) };
    measures.push(
      {
        name: `sole.${side}`,
        subject: `${side} sole, while it bears`,
        ...shared,
        values: bearing,
        band: [-limits.solePercent, limits.solePercent],
      },
      {
        name: `sink.${side}`,
        subject: `${side} sole against the floor`,
        ...shared,
        values: sunk,
        band: [-limits.solePercent, Infinity],
      },
      {
        name: `pitch.${side}`,
        subject: `pitch of the ${side} sole, ball up`,
        unit: '°',
        bones: namesOf(side),
        values: pitchOf(places),
        band: null,
      },
      {
        name: `slide.${side}`,
        subject: `slide of the ${side} foot in a contact`,
        ...shared,
        values: slides,
        band: [0, limits.slidePercent],
      },
    );
  }
  const [left, right] = [heights.get('left'), heights.get('right')];
  if (left && right)
    measures.push({
      name: 'sole.difference',
      unit: '%',
      subject: 'difference of the soles while both bear',
      bones: [...namesOf('left'), ...namesOf('right')],
      values: left.map((height, frame) => height - right[frame]),
      band: [-limits.solePercent, limits.solePercent],
    });
  return measures;
}

type Foot = { readonly places: readonly (readonly Vec3[])[]; readonly contacts: readonly Contact[] };

/**
 * The floor of each contact: as the contact tells. Of a motion whose contacts tell nothing it is that of the reference
 * posture, but for contacts that plainly stand on steps down from it.
 */
function floorsOf(
  feet: readonly Foot[],
  floor: number,
  leg: number,
): { readonly floors: ReadonlyMap<Contact, number>; readonly isStepped: boolean } {
  const told = feet.flatMap(({ contacts }) => contacts.map((contact) => ({ contact, height: contact.height ?? 0 })));
  if (told.some(({ height }) => height !== 0))
    return {
      floors: new Map(told.map(({ contact, height }) => [contact, floor + height * leg])),
      isStepped: told.some(({ height }) => Math.abs(height - told[0].height) > STEP_SHARE),
    };
  const heights = feet.flatMap(({ places, contacts }) =>
    contacts.map((contact) => {
      const span = places.slice(contact.from, contact.to + 1).map((points) => Math.min(...points.map(([, y]) => y)));
      return { contact, height: span.sort((a, b) => a - b)[span.length >> 1] ?? floor };
    }),
  );
  // Steps up are no contacts where nobody told so; those down lie under the floor, and no foot goes through it.
  const isStep = (height: number): boolean => floor - height > STEP_SHARE * leg;
  return {
    floors: new Map(heights.map(({ contact, height }) => [contact, isStep(height) ? height : floor])),
    isStepped: heights.some(({ height }) => isStep(height)),
  };
}

/** From heel to ball against the floor, degrees; NaN where a foot shows one point alone. */
function pitchOf(places: Foot['places']): Float64Array {
  return Float64Array.from(places, ([heel, ball]) =>
    ball ? (Math.atan2(ball[1] - heel[1], Math.hypot(ball[0] - heel[0], ball[2] - heel[2])) * 180) / Math.PI : NaN,
  );
}

/** A contact that is found on a source starts and ends while the foot still moves: up to so many seconds of it, and faster than so many legs a second. */
const COMING_SECONDS = 0.1;
const COMING_SPEED = 0.2;

/**
 * Way over the floor of whichever point bears, metres: of a foot that rolls one always stands, and moves least. Where it
 * still comes, or goes already, is left out.
 */
function slideOf(places: Foot['places'], { from, to }: Contact, leg: number, framesPerSecond: number): number {
  const last = Math.min(to, places.length - 1);
  const steps = Array.from({ length: Math.max(0, last - from) }, (_, at) => {
    const [before, now] = [places[from + at], places[from + at + 1]];
    return Math.min(...now.map(([x, , z], point) => Math.hypot(x - before[point][0], z - before[point][2])));
  });
  // A foot that slides all along is no foot that comes: it must be slower in between.
  const middle = [...steps].sort((a, b) => a - b)[steps.length >> 1] ?? 0;
  const fast = Math.max((COMING_SPEED * leg) / framesPerSecond, 2 * middle);
  const most = Math.round(COMING_SECONDS * framesPerSecond);
  let [first, end] = [0, steps.length];
  while (first < Math.min(most, end) && steps[first] > fast) first++;
  while (end > first && steps.length - end < most && steps[end - 1] > fast) end--;
  return steps.slice(first, end).reduce((sum, step) => sum + step, 0);
}
