import { add, scale, subtract } from '@/core/math/vec3';
import { SIDES } from '@/core/definition/definition';
import { ellipsoid, tube } from '../figure/mesh';
import { plainClothes, townsfolk } from '../figure/townsfolk';
import type { Figure } from '../figure/write-figure';

const LIMBS: Record<string, string> = {
  UpperArm: 'arm_1',
  LowerArm: 'arm_2',
  Hand: 'arm_3',
  UpperLeg: 'leg_1',
  LowerLeg: 'leg_2',
  Foot: 'leg_3',
  Toes: 'leg_4',
};
const CORE: Record<string, string> = { hips: 'core_1', spine: 'core_2', chest: 'core_3', head: 'core_4' };
const FINGERS = ['left', 'right'].flatMap((side) =>
  ['Thumb', 'Index', 'Middle', 'Ring', 'Little'].flatMap((digit) =>
    ['Metacarpal', 'Proximal', 'Intermediate', 'Distal'].map((part) => `${side}${digit}${part}`),
  ),
);

function nameOf(role: string): string {
  const sided = /^(left|right)(.*)$/.exec(role);
  return sided ? `${sided[1] === 'left' ? 'port' : 'starboard'}_${LIMBS[sided[2]]}` : CORE[role];
}

/** A machine: no collar bones, no neck, no fingers; segments counted along limbs, sides as a sailor calls them; a key in its back. */
export function clockworkDeckhand(): Figure {
  const { builder, body, places, name } = townsfolk({
    size: 1.08,
    breadth: 1.18,
    armsDownDegrees: 66,
    elbowDegrees: 6,
    girth: 1.1,
    nameOf,
    rootName: 'frame',
    without: ['upperChest', 'neck', 'leftShoulder', 'rightShoulder', ...FINGERS],
    axes: 'world',
  });
  const key = add(places.chest, [0, 0.08, -0.2]);
  builder.add('wind_up_handle', name('chest'), key, 'prop');
  const lead = [{ bone: name('head'), weight: 1 }];
  const centre = add(places.head, [0, 0.1, 0.01]);
  const turned = [{ bone: 'wind_up_handle', weight: 1 }];
  return {
    name: 'Clockwork deckhand',
    joints: builder.joints,
    materials: {
      tin: { colour: [0.5, 0.55, 0.58], roughness: 0.45 },
      enamel: { colour: [0.16, 0.36, 0.5], roughness: 0.4 },
      brass: { colour: [0.75, 0.56, 0.22], roughness: 0.35 },
      iron: { colour: [0.2, 0.2, 0.22], roughness: 0.5 },
      lamp: { colour: [1, 0.82, 0.4] },
    },
    parts: [
      ...plainClothes(body, { skin: 'tin', top: 'enamel', legs: 'tin', shoes: 'iron' }),
      tube({
        material: 'tin',
        path: [add(places.head, [0, 0.0, 0]), add(places.head, [0, 0.1, 0]), add(places.head, [0, 0.23, 0])],
        radii: [
          [0.11, 0.1],
          [0.12, 0.11],
          [0.1, 0.095],
        ],
        leads: [{ bone: name('head'), at: 0 }],
        blend: 0.1,
        sides: 10,
        rings: 6,
      }),
      ...SIDES.map((side) =>
        ellipsoid('lamp', add(centre, [side === 'left' ? 0.045 : -0.045, 0.03, 0.105]), [0.028, 0.028, 0.014], lead),
      ),
      ...SIDES.flatMap((side) =>
        ['UpperArm', 'LowerArm', 'UpperLeg', 'LowerLeg'].map((part) =>
          ellipsoid('brass', places[side + part], [0.075, 0.075, 0.075], [{ bone: name(side + part), weight: 1 }]),
        ),
      ),
      ...SIDES.map((side) => {
        const [from, to] = [places[`${side}LowerArm`], places[`${side}Hand`]];
        return ellipsoid(
          'iron',
          add(to, scale(subtract(to, from), 0.22)),
          [0.05, 0.075, 0.05],
          [{ bone: name(`${side}Hand`), weight: 1 }],
        );
      }),
      tube({
        material: 'brass',
        path: [add(key, [0, 0, 0.1]), key, add(key, [0, 0, -0.08])],
        radii: [
          [0.02, 0.02],
          [0.02, 0.02],
          [0.018, 0.018],
        ],
        leads: [{ bone: 'wind_up_handle', at: 0 }],
        blend: 0.1,
        sides: 8,
        rings: 6,
      }),
      ...([-1, 1] as const).map((sign) =>
        ellipsoid('brass', add(key, [sign * 0.07, 0, -0.1]), [0.07, 0.05, 0.014], turned),
      ),
    ],
    clips: [
      {
        name: 'Run down',
        seconds: 1.5,
        swings: [
          { joint: 'wind_up_handle', axis: [0, 0, 1], degrees: 80 },
          { joint: name('head'), axis: [0, 1, 0], degrees: 30 },
        ],
      },
    ],
  };
}
