import { add, scale, subtract } from '@/core/math/vec3';
import { ellipsoid, tube } from '../figure/mesh';
import { between } from '../figure/skeleton';
import { plainClothes, townsfolk } from '../figure/townsfolk';
import type { Figure } from '../figure/write-figure';

const NAMES: Record<string, string> = {
  hips: 'pelvis',
  spine: 'lumbar',
  chest: 'thorax',
  neck: 'neck',
  head: 'head',
  Shoulder: 'clavicle',
  UpperArm: 'humerus',
  LowerArm: 'forearm',
  Hand: 'hand',
  UpperLeg: 'femur',
  LowerLeg: 'shin',
  Foot: 'foot',
  Toes: 'toe',
};

/** Roles of fingers count their segments from 0. */
function nameOf(role: string): string {
  const sided = /^(left|right)(.*)$/.exec(role);
  if (!sided) return `slt27:${NAMES[role]}`;
  const mark = sided[1] === 'left' ? 'L' : 'R';
  const digit = /^(Thumb|Index|Middle|Ring|Little)(Metacarpal|Proximal|Intermediate|Distal)$/.exec(sided[2]);
  if (!digit) return `slt27:${mark}_${NAMES[sided[2]]}`;
  const order = digit[1] === 'Thumb' ? ['Metacarpal', 'Proximal', 'Distal'] : ['Proximal', 'Intermediate', 'Distal'];
  return `slt27:${mark}_${digit[1].toLowerCase()}_${order.indexOf(digit[2])}`;
}

/** A heavy diving suit from the generator Silt: prefix on every name, boots of lead, arms held away from the body. */
export function harbourDiver(): Figure {
  const { builder, body, places, name } = townsfolk({
    size: 1.02,
    breadth: 1.22,
    armsDownDegrees: 34,
    elbowDegrees: 8,
    girth: 1.62,
    nameOf,
    rootName: null,
    without: [
      'upperChest',
      ...['left', 'right'].flatMap((side) =>
        ['Proximal', 'Intermediate', 'Distal'].map((part) => `${side}Little${part}`),
      ),
    ],
    axes: 'bones',
  });
  const centre = add(places.head, [0, 0.11, 0.015]);
  const headLead = [{ bone: name('head'), weight: 1 }];
  const chestLead = [
    { bone: name('chest'), weight: 0.75 },
    { bone: name('spine'), weight: 0.25 },
  ];
  const collar = add(places.neck, [0, -0.02, 0.01]);
  builder.add('slt27:airhose_a', name('head'), add(places.head, [0, 0.16, -0.13]), 'prop');
  builder.add('slt27:airhose_b', 'slt27:airhose_a', add(places.head, [0.03, -0.04, -0.26]), 'prop');
  return {
    name: 'Harbour diver',
    joints: builder.joints,
    materials: {
      skin: { colour: [0.62, 0.45, 0.36] },
      canvas: { colour: [0.55, 0.47, 0.31] },
      copper: { colour: [0.65, 0.34, 0.18], roughness: 0.4 },
      lead: { colour: [0.2, 0.21, 0.23], roughness: 0.5 },
      glass: { colour: [0.14, 0.32, 0.34], roughness: 0.2 },
      rubber: { colour: [0.1, 0.1, 0.1] },
    },
    parts: [
      ...plainClothes(body, { skin: 'skin', top: 'canvas', legs: 'canvas', shoes: 'lead' }),
      ellipsoid('copper', centre, [0.165, 0.18, 0.17], headLead),
      ellipsoid('glass', add(centre, [0, 0.01, 0.12]), [0.085, 0.08, 0.07], headLead),
      ...([-1, 1] as const).map((sign) =>
        ellipsoid('glass', add(centre, [sign * 0.13, 0.02, 0.03]), [0.05, 0.055, 0.05], headLead),
      ),
      ellipsoid(
        'copper',
        collar,
        [0.21, 0.075, 0.17],
        [
          { bone: name('chest'), weight: 0.8 },
          { bone: name('neck'), weight: 0.2 },
        ],
      ),
      ellipsoid('lead', add(places.chest, [0, 0.03, 0.2]), [0.11, 0.1, 0.04], chestLead),
      ellipsoid('lead', add(places.chest, [0, 0.03, -0.19]), [0.12, 0.13, 0.05], chestLead),
      tube({
        material: 'rubber',
        path: [
          add(places.head, [0, 0.16, -0.13]),
          add(places.head, [0.02, 0.06, -0.24]),
          add(places.head, [0.03, -0.04, -0.26]),
          between(add(places.head, [0.03, -0.04, -0.26]), places.chest, 0.5),
        ],
        radii: Array.from({ length: 4 }, () => [0.018, 0.018] as const),
        leads: [
          { bone: 'slt27:airhose_a', at: 0 },
          { bone: 'slt27:airhose_b', at: 0.5 },
          { bone: name('chest'), at: 0.95 },
        ],
        blend: 0.3,
        rings: 16,
        sides: 10,
      }),
      ...(['left', 'right'] as const).map((side) => {
        const [from, to] = [places[`${side}LowerArm`], places[`${side}Hand`]];
        return ellipsoid(
          'lead',
          add(from, scale(subtract(to, from), 0.93)),
          [0.052, 0.052, 0.052],
          [{ bone: name(`${side}LowerArm`), weight: 1 }],
        );
      }),
    ],
    clips: [
      {
        name: 'Wade ashore',
        seconds: 2,
        swings: [
          { joint: name('leftUpperLeg'), axis: [1, 0, 0], degrees: 26 },
          { joint: name('rightUpperLeg'), axis: [1, 0, 0], degrees: -26 },
          { joint: name('spine'), axis: [0, 1, 0], degrees: 9 },
        ],
      },
    ],
  };
}
