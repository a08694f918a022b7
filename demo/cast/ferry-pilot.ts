import { add, type Vec3 } from '@/core/math/vec3';
import { bell } from '../figure/dress';
import { ellipsoid, tube } from '../figure/mesh';
import { plainClothes, townsfolk } from '../figure/townsfolk';
import type { Figure } from '../figure/write-figure';

const WORDS: Record<string, readonly [before: string, after: string]> = {
  Shoulder: ['shoulder', 'base'],
  UpperArm: ['arm', 'up'],
  LowerArm: ['arm', 'low'],
  Hand: ['hand', 'main'],
  UpperLeg: ['leg', 'up'],
  LowerLeg: ['leg', 'low'],
  Foot: ['foot', 'main'],
  Toes: ['foot', 'ball'],
};
const CENTRE: Record<string, string> = {
  hips: 'waist',
  spine: 'back_01',
  chest: 'back_02',
  upperChest: 'back_03',
  neck: 'neck_01',
  head: 'head_01',
};

/** The side stands in the middle of each name. */
function pilotName(role: string): string {
  const sided = /^(left|right)(.*)$/.exec(role);
  if (!sided) return CENTRE[role];
  const mark = sided[1] === 'left' ? 'l' : 'r';
  const digit = /^(Thumb|Index|Middle|Ring|Little)(Metacarpal|Proximal|Intermediate|Distal)$/.exec(sided[2]);
  if (digit) {
    const order = digit[1] === 'Thumb' ? ['Metacarpal', 'Proximal', 'Distal'] : ['Proximal', 'Intermediate', 'Distal'];
    return `finger_${mark}_${digit[1].toLowerCase()}${order.indexOf(digit[2]) + 1}`;
  }
  const [before, after] = WORDS[sided[2]];
  return `${before}_${mark}_${after}`;
}

/** What a copied bone of the coat is called. */
const COAT_SUFFIX = '.coat';
const COAT_ROLES = [
  'hips',
  'spine',
  'chest',
  'upperChest',
  'neck',
  'leftShoulder',
  'leftUpperArm',
  'leftLowerArm',
  'rightShoulder',
  'rightUpperArm',
  'rightLowerArm',
  'leftUpperLeg',
  'rightUpperLeg',
];
const COAT_PARENTS: Record<string, string> = {
  spine: 'hips',
  chest: 'spine',
  upperChest: 'chest',
  neck: 'upperChest',
  leftShoulder: 'upperChest',
  rightShoulder: 'upperChest',
  leftUpperArm: 'leftShoulder',
  rightUpperArm: 'rightShoulder',
  leftLowerArm: 'leftUpperArm',
  rightLowerArm: 'rightUpperArm',
  leftUpperLeg: 'hips',
  rightUpperLeg: 'hips',
};

/** Side mark in the middle of names; the long coat brought its own copy of the skeleton (a freelancer's habit). */
export function ferryPilot(): Figure {
  const { builder, body, places, name } = townsfolk({
    size: 1.06,
    breadth: 1.04,
    armsDownDegrees: 0,
    elbowDegrees: 4,
    girth: 1.02,
    nameOf: pilotName,
    rootName: 'ground',
    axes: 'world',
  });
  const coat = (role: string) => `${pilotName(role)}${COAT_SUFFIX}`;
  for (const role of COAT_ROLES)
    builder.add(coat(role), COAT_PARENTS[role] ? coat(COAT_PARENTS[role]) : null, places[role], 'dangling');
  const from = add(places.hips, [0, 0.16, 0]);
  const to: Vec3 = [0, 0.34, -0.02];
  const head = add(places.head, [0, 0.12, 0.01]);
  const headLead = [{ bone: name('head'), weight: 1 }];
  const coatBody = {
    ...body,
    name: (role: string) => (COAT_ROLES.includes(role) ? coat(role) : body.name(role)),
    girth: 1.2,
    has: (role: string) => COAT_ROLES.includes(role),
  };
  const [, ...bodyParts] = plainClothes(body, { skin: 'skin', top: 'jersey', legs: 'trousers', shoes: 'boots' });
  const [coatTorso, ...coatSleeves] = plainClothes(coatBody, {
    skin: 'coat',
    top: 'coat',
    legs: 'coat',
    shoes: 'coat',
  }).slice(0, 3);
  return {
    name: 'Ferry pilot',
    joints: builder.joints,
    materials: {
      skin: { colour: [0.7, 0.5, 0.38] },
      jersey: { colour: [0.75, 0.72, 0.62] },
      trousers: { colour: [0.17, 0.2, 0.27] },
      boots: { colour: [0.12, 0.11, 0.1] },
      beard: { colour: [0.55, 0.52, 0.48] },
      cap: { colour: [0.1, 0.15, 0.25] },
      coat: { colour: [0.73, 0.56, 0.16] },
    },
    parts: [
      ...bodyParts,
      ellipsoid('beard', add(places.head, [0, 0.02, 0.07]), [0.058, 0.07, 0.045], headLead),
      tube({
        material: 'cap',
        path: [add(head, [0, 0.03, 0]), add(head, [0, 0.075, 0]), add(head, [0, 0.1, -0.005])],
        radii: [
          [0.086, 0.102],
          [0.1, 0.112],
          [0.08, 0.09],
        ],
        leads: [{ bone: name('head'), at: 0 }],
        blend: 0.1,
        sides: 18,
        rings: 6,
      }),
      ellipsoid('cap', add(head, [0, 0.028, 0.095]), [0.07, 0.01, 0.055], headLead),
      coatTorso,
      ...coatSleeves.map((part) => ({
        ...part,
        weights: part.weights
          .map((list) =>
            list.map(({ bone, weight }) => ({
              bone:
                bone === name('leftHand')
                  ? coat('leftLowerArm')
                  : bone === name('rightHand')
                    ? coat('rightLowerArm')
                    : bone,
              weight,
            })),
          )
          .map(merged),
      })),
      bell(body, 'coat', from, to, [0.16, 0.24], (point, share) => {
        const side = point[0] >= 0 ? 'left' : 'right';
        const leg = Math.min(0.75, share * 0.9) * Math.min(1, Math.abs(point[0]) / 0.08);
        return [
          { bone: coat('hips'), weight: 1 - leg },
          { bone: coat(`${side}UpperLeg`), weight: leg },
        ].filter((entry) => entry.weight > 0);
      }),
    ],
    clips: [
      {
        name: 'Turn the wheel',
        seconds: 1.5,
        swings: [
          { joint: name('leftUpperArm'), axis: [0, 1, 0], degrees: -35 },
          { joint: name('rightUpperArm'), axis: [0, 1, 0], degrees: 35 },
          { joint: name('chest'), axis: [0, 1, 0], degrees: 12 },
        ],
      },
      { name: 'Look aft', seconds: 1, swings: [{ joint: name('head'), axis: [0, 1, 0], degrees: 50 }] },
    ],
  };
}

function merged(list: readonly { bone: string; weight: number }[]): { bone: string; weight: number }[] {
  const sums = new Map<string, number>();
  for (const { bone, weight } of list) sums.set(bone, (sums.get(bone) ?? 0) + weight);
  return [...sums].map(([bone, weight]) => ({ bone, weight }));
}
