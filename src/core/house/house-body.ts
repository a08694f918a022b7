import { DIGITS, digitRoles, SIDES, type Digit } from '../definition/definition';
import { add, scale, type Vec3 } from '../math/vec3';

/** Part of a body for its balance. */
interface Mass {
  /** Role whose segment it is, and the role at whose joint the segment ends. */
  readonly role: string;
  readonly end: string;
  /** Share of the whole body's mass, and where its centre lies from joint to end. */
  readonly share: number;
  readonly centre: number;
}

/**
 * The figure that the house set is made for: a grown person of 1.75 m in the T-pose, body frame (x left, y up, z ahead),
 * metres, floor at 0, hips over the origin. Segment lengths as shares of the height: Drillis and Contini 1966, in Winter,
 * Biomechanics and Motor Control of Human Movement, 4th ed., figure 4.1.
 */
const HOUSE_HEIGHT = 1.75;
const of = (share: number): number => share * HOUSE_HEIGHT;

const ANKLE = of(0.039);
/** Thigh joint to knee, and knee to ankle. */
export const THIGH = of(0.245);
export const SHIN = of(0.246);
export const LEG = THIGH + SHIN;
export const UPPER_ARM = of(0.186);
export const FOREARM = of(0.146);
/** Half the distance of the hip joints. */
const HIP_ASIDE = of(0.052);
/** The sole against the ankle: where heel and ball bear, and the tip of the toes. */
export const SOLE = {
  ankle: ANKLE,
  heel: [0, -ANKLE, -of(0.034)] as Vec3,
  ball: [0, -ANKLE, of(0.08)] as Vec3,
  toe: [0, -ANKLE, of(0.118)] as Vec3,
  /** Joint of the toes, above the ball. */
  toeJoint: [0, -ANKLE + of(0.012), of(0.08)] as Vec3,
  halfWidth: of(0.0275),
} as const;

const HIP_TOP = ANKLE + LEG;

function buildPlaces(): Record<string, Vec3> {
  const places: Record<string, Vec3> = {
    hips: [0, HIP_TOP + of(0.02), 0],
    spine: [0, of(0.59), 0],
    chest: [0, of(0.665), 0],
    upperChest: [0, of(0.74), 0],
    neck: [0, of(0.845), 0],
    head: [0, of(0.9), of(0.008)],
    jaw: [0, of(0.905), of(0.02)],
  };
  for (const side of SIDES) {
    const sign = side === 'left' ? 1 : -1;
    const put = (role: string, [x, y, z]: Vec3) => (places[side + role] = [sign * x, y, z]);
    const hand = of(0.105) + UPPER_ARM + FOREARM;
    put('Eye', [of(0.018), of(0.936), of(0.05)]);
    put('UpperLeg', [HIP_ASIDE, HIP_TOP, 0]);
    put('LowerLeg', [HIP_ASIDE, HIP_TOP - THIGH, 0]);
    put('Foot', [HIP_ASIDE, ANKLE, 0]);
    put('Toes', add([HIP_ASIDE, ANKLE, 0], SOLE.toeJoint));
    put('Shoulder', [of(0.012), of(0.815), 0]);
    put('UpperArm', [of(0.105), of(0.818), 0]);
    put('LowerArm', [of(0.105) + UPPER_ARM, of(0.818), 0]);
    put('Hand', [hand, of(0.818), 0]);
    for (const digit of DIGITS)
      digitRoles(side, digit).forEach((role, at) => {
        const { root, reach, lengths } = DIGIT_PLACES[digit];
        const along = lengths.slice(0, at).reduce((sum, each) => sum + each, 0);
        const place = add([hand, of(0.818), 0], add(root, scale(reach, along)));
        places[role] = [sign * place[0], place[1], place[2]];
      });
  }
  return places;
}

/** First joint of a digit from the wrist, where it leads to, and its phalanges; left hand, metres. */
const DIGIT_PLACES: Readonly<
  Record<Digit, { readonly root: Vec3; readonly reach: Vec3; readonly lengths: readonly number[] }>
> = {
  Thumb: { root: [0.022, -0.008, 0.026], reach: [0.72, -0.12, 0.68], lengths: [0.042, 0.032, 0.026] },
  Index: { root: [0.092, 0, 0.026], reach: [0.985, 0, 0.174], lengths: [0.041, 0.024, 0.02] },
  Middle: { root: [0.095, 0, 0.005], reach: [0.999, 0, 0.035], lengths: [0.045, 0.028, 0.021] },
  Ring: { root: [0.09, 0, -0.015], reach: [0.993, 0, -0.122], lengths: [0.042, 0.027, 0.021] },
  Little: { root: [0.083, 0, -0.034], reach: [0.961, 0, -0.276], lengths: [0.033, 0.02, 0.018] },
};

/** Joint of each role of the house figure in the T-pose. */
export const HOUSE_PLACES: Readonly<Record<string, Vec3>> = buildPlaces();

/** The role that a role hangs on, on the house figure. */
export const HOUSE_PARENTS: Readonly<Record<string, string | null>> = {
  hips: null,
  spine: 'hips',
  chest: 'spine',
  upperChest: 'chest',
  neck: 'upperChest',
  head: 'neck',
  jaw: 'head',
  ...Object.fromEntries(
    SIDES.flatMap((side) => [
      [`${side}Eye`, 'head'],
      [`${side}UpperLeg`, 'hips'],
      [`${side}LowerLeg`, `${side}UpperLeg`],
      [`${side}Foot`, `${side}LowerLeg`],
      [`${side}Toes`, `${side}Foot`],
      [`${side}Shoulder`, 'upperChest'],
      [`${side}UpperArm`, `${side}Shoulder`],
      [`${side}LowerArm`, `${side}UpperArm`],
      [`${side}Hand`, `${side}LowerArm`],
      ...DIGITS.flatMap((digit) => {
        const roles = digitRoles(side, digit);
        return roles.map((role, at) => [role, at === 0 ? `${side}Hand` : roles[at - 1]]);
      }),
    ]),
  ),
};

/** Roles in the order in which they hang on one another. */
export const HOUSE_ROLES: readonly string[] = Object.keys(HOUSE_PARENTS);

/** Masses and their centres: Winter, table 4.1, after Dempster 1955. */
export const MASSES: readonly Mass[] = [
  { role: 'hips', end: 'upperChest', share: 0.281, centre: 0.5 },
  { role: 'upperChest', end: 'neck', share: 0.216, centre: 0.18 },
  { role: 'neck', end: 'head', share: 0.081, centre: 1 },
  ...SIDES.flatMap((side): Mass[] => [
    { role: `${side}UpperLeg`, end: `${side}LowerLeg`, share: 0.1, centre: 0.433 },
    { role: `${side}LowerLeg`, end: `${side}Foot`, share: 0.0465, centre: 0.433 },
    { role: `${side}Foot`, end: `${side}Toes`, share: 0.0145, centre: 0.5 },
    { role: `${side}UpperArm`, end: `${side}LowerArm`, share: 0.028, centre: 0.436 },
    { role: `${side}LowerArm`, end: `${side}Hand`, share: 0.016, centre: 0.43 },
    { role: `${side}Hand`, end: `${side}MiddleProximal`, share: 0.006, centre: 0.8 },
  ]),
];
