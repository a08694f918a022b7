import { add, distance, scale, type Vec3 } from '@/core/math/vec3';
import { SIDES } from '@/core/definition/definition';
import { ellipsoid, tube } from '../figure/mesh';
import { plainClothes, townsfolk } from '../figure/townsfolk';
import type { Figure } from '../figure/write-figure';

/** Names that only count: the file's own humanoid block is what tells them apart. */
const nameOf = (role: string): string =>
  `node_${[...role].reduce((sum, letter, at) => (sum * 31 + letter.charCodeAt(0) + at) % 9973, 7)}`;

/** Spectacles, ledger cap, slim; a VRM 1.0 file that names its roles in its humanoid block. */
export function customsClerk(): Figure {
  const { builder, body, places, name } = townsfolk({
    size: 0.96,
    breadth: 0.9,
    armsDownDegrees: 0,
    girth: 0.86,
    nameOf,
    rootName: 'node_0',
    axes: 'world',
  });
  for (const side of SIDES)
    builder.add(
      nameOf(`${side}Eye`),
      name('head'),
      add(places.head, [side === 'left' ? 0.03 : -0.03, 0.1, 0.08]),
      `${side}Eye`,
    );
  const centre = add(places.head, [0, 0.1, 0.012]);
  const lead = [{ bone: name('head'), weight: 1 }];
  return {
    name: 'Customs clerk',
    joints: builder.joints,
    materials: {
      skin: { colour: [0.45, 0.3, 0.22] },
      jacket: { colour: [0.14, 0.3, 0.22] },
      trousers: { colour: [0.28, 0.29, 0.31] },
      shoes: { colour: [0.08, 0.07, 0.07] },
      hair: { colour: [0.07, 0.05, 0.05] },
      glass: { colour: [0.75, 0.83, 0.85], roughness: 0.2 },
      sash: { colour: [0.76, 0.2, 0.16] },
    },
    parts: [
      ...plainClothes(body, { skin: 'skin', top: 'jacket', legs: 'trousers', shoes: 'shoes' }),
      ellipsoid('hair', add(centre, [0, 0.03, -0.012]), [0.082, 0.1, 0.098], lead, ([x, y, z]) => [
        x,
        Math.max(y, -0.25),
        Math.min(z, 0.55),
      ]),
      ellipsoid('hair', add(centre, [0, 0.1, -0.06]), [0.045, 0.04, 0.045], lead),
      ...SIDES.map((side) =>
        ellipsoid(
          'glass',
          add(places.head, [side === 'left' ? 0.03 : -0.03, 0.1, 0.106]),
          [0.024, 0.02, 0.006],
          [
            { bone: nameOf(`${side}Eye`), weight: 0.02 },
            { bone: name('head'), weight: 0.98 },
          ],
        ),
      ),
      tube({
        material: 'sash',
        path: [
          add(places.leftUpperArm, [-0.06, 0.05, 0.07]),
          add(places.chest, [0.02, 0, 0.115]),
          add(places.hips, [-0.1, 0.05, 0.085]),
        ],
        radii: [
          [0.03, 0.008],
          [0.03, 0.008],
          [0.03, 0.008],
        ],
        leads: [
          { bone: name('upperChest'), at: 0 },
          { bone: name('chest'), at: 0.4 },
          { bone: name('spine'), at: 0.7 },
        ],
        blend: 0.3,
        rings: 14,
        sides: 10,
      }),
    ],
    clips: [],
    morphs: [
      { name: 'Mund_auf', move: drawn(add(places.head, [0, 0.045, 0.1]), 0.035, [0, -0.02, 0.004]) },
      { name: 'Laecheln', move: drawn(add(places.head, [0.03, 0.05, 0.09]), 0.04, [0.008, 0.012, 0]) },
      ...SIDES.map((side) => ({
        name: `Auge_zu_${side === 'left' ? 'L' : 'R'}`,
        move: drawn(add(places.head, [side === 'left' ? 0.03 : -0.03, 0.11, 0.1]), 0.022, [0, -0.014, 0.003]),
      })),
      { name: 'Braue_hoch', move: drawn(add(places.head, [0, 0.135, 0.09]), 0.05, [0, 0.012, 0.004]) },
      // What an export leaves behind.
      { name: 'Reserve_06', move: (place) => place },
    ],
  };
}

/** Takes what is near a place along, less the further away it is. */
const drawn =
  (centre: Vec3, reach: number, way: Vec3) =>
  (place: Vec3): Vec3 => {
    const share = Math.max(0, 1 - distance(place, centre) / reach);
    return add(place, scale(way, share * share * (3 - 2 * share)));
  };
