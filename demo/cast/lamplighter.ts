import { add, type Vec3 } from '@/core/math/vec3';
import { ARM_PARTS, DIGITS, LEG_PARTS, SIDES, digitRoles } from '@/core/definition/definition';
import { bell, hands, neckAndHead, shoes, sleeves, torso, trousers, type Body } from '../figure/dress';
import { ellipsoid, tube } from '../figure/mesh';
import { writePng } from '../figure/png';
import { bodyPlaces, SkeletonBuilder } from '../figure/skeleton';
import type { Figure } from '../figure/write-figure';

/** Rewrites the lamplighter's tidy names into another habit; also used to make renamed copies for tests. */
export type NameOf = (part: string, side: 'left' | 'right' | null) => string;

const tidyName: NameOf = (part, side) => (side ? `${side === 'left' ? 'Left' : 'Right'}${part}` : part);

/** Tidy T-pose, all fingers, a root at the floor: the character on which everything should simply work. */
export function lamplighter(nameOf: NameOf = tidyName): Figure {
  const places = bodyPlaces({ size: 1.03, breadth: 0.96 });
  const builder = new SkeletonBuilder();
  const names = new Map<string, string>();
  const put = (role: string, parentRole: string | null, part: string, side: 'left' | 'right' | null) => {
    const parent = parentRole === null ? root : (names.get(parentRole) as string);
    names.set(role, builder.add(nameOf(part, side), parent, places[role], role));
  };
  const root = builder.add(nameOf('Root', null), null, [0, 0, 0], 'root');
  put('hips', null, 'Hips', null);
  put('spine', 'hips', 'Spine', null);
  put('chest', 'spine', 'Chest', null);
  put('upperChest', 'chest', 'UpperChest', null);
  put('neck', 'upperChest', 'Neck', null);
  put('head', 'neck', 'Head', null);
  for (const side of SIDES) {
    LEG_PARTS.forEach((part, at) => put(side + part, at === 0 ? 'hips' : side + LEG_PARTS[at - 1], part, side));
    ARM_PARTS.forEach((part, at) => put(side + part, at === 0 ? 'upperChest' : side + ARM_PARTS[at - 1], part, side));
    for (const digit of DIGITS) {
      const roles = digitRoles(side, digit);
      roles.forEach((role, at) => put(role, at === 0 ? `${side}Hand` : roles[at - 1], role.slice(side.length), side));
    }
  }
  const body: Body = {
    name: (role) => names.get(role) ?? (names.get('hips') as string),
    place: (role) => places[role],
    has: (role) => names.has(role),
    size: 1.03,
    girth: 0.92,
  };
  const head = add(places.head, [0, 0.15, 0.012]);
  const headLead = [{ bone: body.name('head'), weight: 1 }];
  const skirtTop = add(places.hips, [0, 0.06, 0]);
  const skirtEnd: Vec3 = [0, 0.56, -0.01];
  return {
    name: 'Lamplighter',
    joints: builder.joints,
    materials: {
      skin: { colour: [0.78, 0.56, 0.44] },
      coat: { colour: [1, 1, 1], texture: weave([47, 52, 84], [58, 64, 98]) },
      trousers: { colour: [0.23, 0.21, 0.2] },
      boots: { colour: [0.13, 0.1, 0.09], roughness: 0.6 },
      hat: { colour: [0.16, 0.15, 0.2] },
      scarf: { colour: [0.83, 0.6, 0.2] },
    },
    parts: [
      torso(body, 'coat'),
      ...sleeves(body, 'coat', 0.04),
      ...neckAndHead(body, 'skin'),
      ...hands(body, 'skin'),
      ...trousers(body, 'trousers', 0.05),
      ...shoes(body, 'boots'),
      bell(body, 'coat', skirtTop, skirtEnd, [0.148, 0.205], (point, share) => {
        const side = point[0] >= 0 ? 'left' : 'right';
        const outward = Math.min(1, Math.abs(point[0]) / 0.1);
        const leg = Math.min(1, share * 1.1) * 0.7 * outward;
        return [
          { bone: body.name('hips'), weight: 1 - leg },
          { bone: body.name(`${side}UpperLeg`), weight: leg },
        ].filter((entry) => entry.weight > 0);
      }),
      // A tall hat with a brim, and a scarf.
      tube({
        material: 'hat',
        path: [add(head, [0, 0.025, 0]), add(head, [0, 0.1, -0.004]), add(head, [0, 0.24, -0.015])],
        radii: [
          [0.086, 0.1],
          [0.08, 0.092],
          [0.07, 0.078],
        ],
        leads: [{ bone: body.name('head'), at: 0 }],
        blend: 0.1,
        sides: 18,
        rings: 6,
      }),
      ellipsoid('hat', add(head, [0, 0.03, 0]), [0.145, 0.012, 0.155], headLead),
      ellipsoid(
        'scarf',
        add(places.neck, [0, 0.0, 0.008]),
        [0.085, 0.04, 0.088],
        [
          { bone: body.name('neck'), weight: 0.6 },
          { bone: body.name('upperChest'), weight: 0.4 },
        ],
      ),
    ],
    clips: [
      {
        name: 'Look along the quay',
        seconds: 2,
        swings: [
          { joint: body.name('spine'), axis: [0, 1, 0], degrees: 8 },
          { joint: body.name('head'), axis: [0, 1, 0], degrees: 32 },
          { joint: body.name('leftUpperArm'), axis: [0, 0, 1], degrees: 40 },
        ],
      },
    ],
  };
}

/** A woven cloth of two yarns. */
function weave(a: readonly [number, number, number], b: readonly [number, number, number]): Uint8Array {
  return writePng(16, 16, (x, y) => (((x >> 1) + (y >> 1)) % 2 === 0 ? a : b));
}
