/**
 * Full ranges of the joints of grown people, degrees. Source: American Academy of Orthopaedic Surgeons, Joint Motion:
 * Method of Measuring and Recording, 1965; means of its committee.
 */
export const JOINT_RANGES = {
  shoulder: { flex: 180, extend: 60, abduct: 180, inward: 70, outward: 90 },
  elbow: { flex: 150 },
  forearm: { down: 80, up: 80 },
  wrist: { flex: 80, extend: 70, thumbwards: 20, littlewards: 30 },
  hip: { flex: 120, extend: 30, abduct: 45, adduct: 30, inward: 45, outward: 45 },
  knee: { flex: 135 },
  ankle: { up: 20, down: 50 },
  neck: { flex: 45, extend: 45, lean: 45, turn: 60 },
  trunk: { flex: 80, extend: 25, lean: 35, turn: 45 },
  finger: { knuckle: 90, middle: 100, end: 90 },
  thumb: { knuckle: 50, end: 80 },
} as const;
