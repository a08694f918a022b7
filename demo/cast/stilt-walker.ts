import { add, type Vec3 } from '@/core/math/vec3';
import { SIDES } from '@/core/definition/definition';
import { ellipsoid, tube } from '../figure/mesh';
import { plainClothes, townsfolk } from '../figure/townsfolk';
import type { Figure } from '../figure/write-figure';

const STILT = 0.95;
const NAMES: Record<string, string> = {
  hips: 'pelvis',
  spine: 'spineLow',
  chest: 'spineMid',
  upperChest: 'spineTop',
  neck: 'neck',
  head: 'head',
  Shoulder: 'clav',
  UpperArm: 'upArm',
  LowerArm: 'loArm',
  Hand: 'hand',
  UpperLeg: 'upLeg',
  LowerLeg: 'loLeg',
  Foot: 'ankle',
  Toes: 'ball',
};

function nameOf(role: string): string {
  const sided = /^(left|right)(.*)$/.exec(role);
  if (!sided) return NAMES[role];
  const mark = sided[1] === 'left' ? 'lf' : 'rt';
  const digit = /^(Thumb|Index|Middle|Ring|Little)(Metacarpal|Proximal|Intermediate|Distal)$/.exec(sided[2]);
  if (!digit) return `${mark}_${NAMES[sided[2]]}`;
  const order = digit[1] === 'Thumb' ? ['Metacarpal', 'Proximal', 'Distal'] : ['Proximal', 'Intermediate', 'Distal'];
  return `${mark}_${digit[1].toLowerCase()}${'ABC'[order.indexOf(digit[2])]}`;
}

/** Walks through the flood on stilts: the floor is a metre below the feet, and the stilts are no part of the legs. */
export function stiltWalker(): Figure {
  const { builder, body, places, name } = townsfolk({
    size: 0.98,
    breadth: 0.9,
    armsDownDegrees: 12,
    girth: 0.8,
    nameOf,
    rootName: null,
    axes: 'bones',
  });
  for (const side of SIDES) {
    const mark = side === 'left' ? 'lf' : 'rt';
    builder.add(`${mark}_stilt_grip`, name(`${side}Foot`), add(places[`${side}Foot`], [0, -0.05, 0]), 'prop');
    builder.add(`${mark}_stilt_foot`, `${mark}_stilt_grip`, add(places[`${side}Foot`], [0, -STILT - 0.07, 0]), 'prop');
  }
  const centre = add(places.head, [0, 0.1, 0.01]);
  const lead = [{ bone: name('head'), weight: 1 }];
  const figure: Figure = {
    name: 'Stilt walker',
    joints: builder.joints,
    materials: {
      skin: { colour: [0.66, 0.47, 0.36] },
      tunic: { colour: [0.78, 0.34, 0.2] },
      hose: { colour: [0.2, 0.32, 0.4] },
      shoes: { colour: [0.16, 0.12, 0.1] },
      wood: { colour: [0.5, 0.36, 0.22] },
      cap: { colour: [0.9, 0.8, 0.5] },
    },
    parts: [
      ...plainClothes(body, { skin: 'skin', top: 'tunic', legs: 'hose', shoes: 'shoes' }),
      tube({
        material: 'cap',
        path: [add(centre, [0, 0.05, 0]), add(centre, [0, 0.16, -0.03]), add(centre, [0.1, 0.2, -0.1])],
        radii: [
          [0.09, 0.1],
          [0.05, 0.06],
          [0.008, 0.008],
        ],
        leads: [{ bone: name('head'), at: 0 }],
        blend: 0.1,
        sides: 12,
        rings: 10,
      }),
      ellipsoid('cap', add(centre, [0.11, 0.2, -0.11]), [0.025, 0.025, 0.025], lead),
      ...SIDES.map((side) => {
        const foot = places[`${side}Foot`];
        const mark = side === 'left' ? 'lf' : 'rt';
        return tube({
          material: 'wood',
          path: [add(foot, [0, 0.3, -0.06]), add(foot, [0, -0.09, 0]), add(foot, [0, -STILT - 0.09, 0])],
          radii: [
            [0.024, 0.024],
            [0.03, 0.03],
            [0.022, 0.022],
          ],
          leads: [
            { bone: `${mark}_stilt_grip`, at: 0 },
            { bone: `${mark}_stilt_foot`, at: 0.97 },
          ],
          blend: 0.1,
          sides: 8,
          rings: 12,
        });
      }),
    ],
    clips: [
      {
        name: 'Stride over',
        seconds: 2,
        swings: [
          { joint: name('leftUpperLeg'), axis: [1, 0, 0], degrees: 22 },
          { joint: name('rightUpperLeg'), axis: [1, 0, 0], degrees: -22 },
        ],
      },
    ],
  };
  return lifted(figure, STILT);
}

/** Everything higher by so many metres: the stilts reach the floor. */
function lifted(figure: Figure, metres: number): Figure {
  const up: Vec3 = [0, metres, 0];
  return {
    ...figure,
    joints: figure.joints.map((joint) => ({ ...joint, position: add(joint.position, up) })),
    parts: figure.parts.map((part) => ({
      ...part,
      positions: part.positions.map((value, at) => (at % 3 === 1 ? value + metres : value)),
    })),
  };
}
