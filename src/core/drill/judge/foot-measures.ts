import { SIDES, type Side } from '../../definition/definition';
import type { Vec3 } from '../../math/vec3';
import { contactAt, type Contact, type Motion } from '../../motion/motion';
import type { DrillLimits } from '../../profile/profile';
import type { FigureTrack } from './figure-track';
import type { Measure } from './measure';
import { pointPlace, type Soles } from './sole-points';

/** Contacts that lie further apart in height than this share of a leg stand on steps. */
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
      const slid = slideOf(places, contact) * percent;
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

/** The floor of each contact: that of the reference posture, unless the contacts plainly stand on steps. */
function floorsOf(
  feet: readonly Foot[],
  floor: number,
  leg: number,
): { readonly floors: ReadonlyMap<Contact, number>; readonly isStepped: boolean } {
  const heights = feet.flatMap(({ places, contacts }) =>
    contacts.map((contact) => {
      const span = places.slice(contact.from, contact.to + 1).map((points) => Math.min(...points.map(([, y]) => y)));
      return { contact, height: span.sort((a, b) => a - b)[span.length >> 1] ?? floor };
    }),
  );
  const all = heights.map(({ height }) => height);
  const isStepped = Math.max(...all) - Math.min(...all) > STEP_SHARE * leg;
  const floors = new Map(heights.map(({ contact, height }) => [contact, isStepped ? height : floor]));
  return { floors, isStepped };
}

/** Way over the floor of whichever point bears: of a foot that rolls one always stands, and moves least. */
function slideOf(places: Foot['places'], { from, to }: Contact): number {
  let slid = 0;
  for (let frame = from + 1; frame <= Math.min(to, places.length - 1); frame++)
    slid += Math.min(
      ...places[frame].map(([x, , z], point) =>
        Math.hypot(x - places[frame - 1][point][0], z - places[frame - 1][point][2]),
      ),
    );
  return slid;
}
