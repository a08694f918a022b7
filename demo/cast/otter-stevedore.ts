import { add, type Vec3 } from '@/core/math/vec3';
import { SIDES } from '@/core/definition/definition';
import { ellipsoid, tube } from '../figure/mesh';
import { plainClothes, townsfolk } from '../figure/townsfolk';
import type { Figure } from '../figure/write-figure';

const NAMES: Record<string, string> = {
  hips: 'Bassin',
  spine: 'Colonne1',
  chest: 'Colonne2',
  upperChest: 'Poitrine',
  neck: 'Cou',
  head: 'Tete',
  Shoulder: 'Clavicule',
  UpperArm: 'Bras',
  LowerArm: 'AvantBras',
  Hand: 'Main',
  UpperLeg: 'Cuisse',
  LowerLeg: 'Tibia',
  Foot: 'Pied',
  Toes: 'Orteils',
  Thumb: 'Pouce',
  Index: 'Index',
  Middle: 'Majeur',
  Ring: 'Annulaire',
};

function nameOf(role: string): string {
  const sided = /^(left|right)(.*)$/.exec(role);
  if (!sided) return NAMES[role];
  const mark = sided[1] === 'left' ? 'G' : 'D';
  const digit = /^(Thumb|Index|Middle|Ring|Little)(Metacarpal|Proximal|Intermediate|Distal)$/.exec(sided[2]);
  if (!digit) return `${NAMES[sided[2]]}_${mark}`;
  const order = digit[1] === 'Thumb' ? ['Metacarpal', 'Proximal', 'Distal'] : ['Proximal', 'Intermediate', 'Distal'];
  return `${NAMES[digit[1]]}${order.indexOf(digit[2])}_${mark}`;
}

const LITTLE = ['left', 'right'].flatMap((side) =>
  ['Proximal', 'Intermediate', 'Distal'].map((part) => `${side}Little${part}`),
);

/** Four fingers, a tail of five bones, ears; short legs, a barrel of a body; French names, segments counted from 0. */
export function otterStevedore(): Figure {
  const size = 0.86;
  const { builder, body, places, name } = townsfolk({
    size,
    breadth: 1.3,
    armsDownDegrees: 24,
    elbowDegrees: 18,
    feetOutDegrees: 14,
    girth: 1.5,
    nameOf,
    rootName: null,
    without: LITTLE,
    axes: 'bones',
  });
  const tail: Vec3[] = [
    [0, 0.8, -0.16],
    [0, 0.66, -0.3],
    [0, 0.5, -0.44],
    [0, 0.34, -0.56],
    [0, 0.2, -0.66],
  ];
  tail.forEach((place, at) => builder.add(`Queue${at}`, at === 0 ? name('hips') : `Queue${at - 1}`, place, 'dangling'));
  const centre = add(places.head, [0, 0.1 * size, 0.02]);
  for (const side of SIDES)
    builder.add(
      `Oreille_${side === 'left' ? 'G' : 'D'}`,
      name('head'),
      add(centre, [side === 'left' ? 0.08 : -0.08, 0.08, -0.01]),
      'dangling',
    );
  const lead = [{ bone: name('head'), weight: 1 }];
  return {
    name: 'Otter stevedore',
    joints: builder.joints,
    materials: {
      fur: { colour: [0.36, 0.24, 0.16] },
      belly: { colour: [0.7, 0.58, 0.44] },
      vest: { colour: [0.52, 0.16, 0.14] },
      breeches: { colour: [0.24, 0.25, 0.3] },
      nose: { colour: [0.06, 0.05, 0.05] },
      rope: { colour: [0.7, 0.6, 0.4] },
    },
    parts: [
      ...plainClothes(body, { skin: 'fur', top: 'vest', legs: 'breeches', shoes: 'fur' }),
      ellipsoid('fur', centre, [0.115, 0.105, 0.12], lead),
      ellipsoid('belly', add(centre, [0, -0.035, 0.1]), [0.062, 0.045, 0.06], lead),
      ellipsoid('nose', add(centre, [0, -0.015, 0.16]), [0.02, 0.014, 0.014], lead),
      ...SIDES.map((side) =>
        ellipsoid(
          'fur',
          add(centre, [side === 'left' ? 0.09 : -0.09, 0.085, -0.01]),
          [0.032, 0.032, 0.014],
          [{ bone: `Oreille_${side === 'left' ? 'G' : 'D'}`, weight: 1 }],
        ),
      ),
      tube({
        material: 'fur',
        path: [add(places.hips, [0, -0.02, -0.1]), ...tail, [0, 0.12, -0.76]],
        radii: [
          [0.09, 0.09],
          [0.085, 0.08],
          [0.075, 0.065],
          [0.062, 0.052],
          [0.048, 0.04],
          [0.03, 0.026],
          [0.008, 0.008],
        ],
        leads: [{ bone: name('hips'), at: 0 }, ...tail.map((_, at) => ({ bone: `Queue${at}`, at: (at + 1) / 7 }))],
        blend: 0.14,
        rings: 26,
      }),
      tube({
        material: 'rope',
        path: [
          add(places.leftUpperArm, [-0.1, 0.07, 0.06]),
          add(places.chest, [0.02, 0.02, 0.2]),
          add(places.hips, [-0.2, 0.08, 0.04]),
        ],
        radii: [
          [0.022, 0.022],
          [0.022, 0.022],
          [0.022, 0.022],
        ],
        leads: [
          { bone: name('upperChest'), at: 0 },
          { bone: name('chest'), at: 0.5 },
          { bone: name('spine'), at: 0.8 },
        ],
        blend: 0.3,
        rings: 14,
        sides: 8,
      }),
    ],
    clips: [
      {
        name: 'Heave',
        seconds: 1.2,
        swings: [
          { joint: name('spine'), axis: [1, 0, 0], degrees: 18 },
          { joint: 'Queue1', axis: [0, 1, 0], degrees: 20 },
        ],
      },
    ],
  };
}
