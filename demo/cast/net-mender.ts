import { add, subtract, type Vec3 } from '@/core/math/vec3';
import { ARM_PARTS, DIGITS, LEG_PARTS, SIDES, digitRoles } from '@/core/definition/definition';
import { hands, neckAndHead, shoes, sleeves, torso, trousers, type Body } from '../figure/dress';
import { ellipsoid, tube } from '../figure/mesh';
import { alongBone, between, bodyPlaces, SkeletonBuilder } from '../figure/skeleton';
import type { Figure } from '../figure/write-figure';

/** Names that say nothing, arms half down, end bones without skin and no root: a generator's (Silt) habits. */
export function netMender(): Figure {
  const size = 0.97;
  const places = bodyPlaces({ size, breadth: 1, armsDownDegrees: 24, elbowDegrees: 6, feetOutDegrees: 4 });
  // An old back: everything above the hips leans forward a little more the higher it is.
  for (const [role, [x, y, z]] of Object.entries(places)) {
    const rise = Math.max(0, y - places.hips[1]);
    places[role] = [x, y, z + rise * rise * 0.16];
  }
  const builder = new SkeletonBuilder();
  const names = new Map<string, string>();
  let counter = 0;
  const put = (role: string, parentRole: string | null, towards: Vec3, truth = role) => {
    const name = `unit_${String((counter * 37) % 101).padStart(3, '0')}`;
    counter++;
    names.set(
      role,
      builder.add(
        name,
        parentRole === null ? null : (names.get(parentRole) as string),
        places[role],
        truth,
        alongBone(subtract(towards, places[role]), [0, 0, 1]),
      ),
    );
  };
  const centre = ['hips', 'spine', 'chest', 'neck', 'head'];
  centre.forEach((role, at) =>
    put(
      role,
      at === 0 ? null : centre[at - 1],
      centre[at + 1] ? places[centre[at + 1]] : add(places[role], [0, 0.1, 0]),
    ),
  );
  places.crown = add(places.head, [0, 0.19, 0.01]);
  put('crown', 'head', add(places.crown, [0, 0.1, 0]), 'tip');
  for (const side of ['right', 'left'] as const) {
    ARM_PARTS.forEach((part, at) =>
      put(
        side + part,
        at === 0 ? 'chest' : side + ARM_PARTS[at - 1],
        ARM_PARTS[at + 1] ? places[side + ARM_PARTS[at + 1]] : places[`${side}MiddleProximal`],
      ),
    );
    for (const digit of DIGITS) {
      const roles = digitRoles(side, digit);
      const last = places[roles[2]];
      places[`${side}${digit}Tip`] = add(last, subtract(last, between(places[roles[1]], last, 0.15)));
      [...roles, `${side}${digit}Tip`].forEach((role, at, all) =>
        put(
          role,
          at === 0 ? `${side}Hand` : all[at - 1],
          places[all[at + 1]] ?? add(places[role], [0.01, 0, 0]),
          at === 3 ? 'tip' : role,
        ),
      );
    }
    LEG_PARTS.forEach((part, at) =>
      put(
        side + part,
        at === 0 ? 'hips' : side + LEG_PARTS[at - 1],
        LEG_PARTS[at + 1] ? places[side + LEG_PARTS[at + 1]] : add(places[side + part], [0, 0, 0.1]),
      ),
    );
    places[`${side}ToeTip`] = add(places[`${side}Toes`], [0, 0, 0.08]);
    put(`${side}ToeTip`, `${side}Toes`, add(places[`${side}ToeTip`], [0, 0, 0.1]), 'tip');
  }
  const fallback: Record<string, string> = { upperChest: 'chest' };
  const body: Body = {
    name: (role) => names.get(role) ?? (names.get(fallback[role] ?? 'hips') as string),
    place: (role) => places[role],
    has: (role) => names.has(role),
    size,
    girth: 0.98,
  };
  const head = add(places.head, [0, 0.1 * size, 0.016]);
  const headLead = [{ bone: body.name('head'), weight: 1 }];
  return {
    name: 'Net mender',
    joints: builder.joints,
    materials: {
      skin: { colour: [0.86, 0.67, 0.56] },
      jersey: { colour: [0.62, 0.64, 0.6] },
      oilskin: { colour: [0.72, 0.55, 0.2], roughness: 0.5 },
      boots: { colour: [0.2, 0.24, 0.22] },
      wool: { colour: [0.36, 0.22, 0.28] },
      beard: { colour: [0.88, 0.86, 0.82] },
    },
    parts: [
      torso(body, 'jersey'),
      ...sleeves(body, 'jersey', 0.04),
      ...neckAndHead(body, 'skin'),
      ...hands(body, 'skin'),
      ...trousers(body, 'oilskin', 0.062),
      ...shoes(body, 'boots'),
      tube({
        material: 'oilskin',
        path: [
          add(places.hips, [0, -0.02, 0.012]),
          add(places.spine, [0, 0.04, 0.014]),
          add(places.chest, [0, 0.08, 0.022]),
        ],
        radii: [
          [0.158, 0.112],
          [0.143, 0.105],
          [0.115, 0.105],
        ],
        leads: [
          { bone: body.name('hips'), at: 0 },
          { bone: body.name('spine'), at: 0.3 },
          { bone: body.name('chest'), at: 0.7 },
        ],
        blend: 0.3,
        sides: 20,
        rings: 12,
      }),
      ellipsoid('wool', add(head, [0, 0.062, -0.012]), [0.086, 0.085, 0.102], headLead, ([x, y, z]) => [
        x,
        Math.max(y, -0.25),
        z,
      ]),
      ellipsoid('wool', add(head, [0, 0.15, -0.03]), [0.024, 0.024, 0.024], headLead),
      ellipsoid('beard', add(head, [0, -0.085, 0.05]), [0.062, 0.075, 0.05], headLead, ([x, y, z]) => [
        x * (y < 0 ? 1 + y * 0.4 : 1),
        y,
        z,
      ]),
    ],
    clips: [
      {
        name: 'Pull the twine',
        seconds: 1.2,
        swings: SIDES.map((side) => ({
          joint: body.name(`${side}LowerArm`),
          axis: [0, 1, 0] as Vec3,
          degrees: side === 'left' ? -28 : 28,
        })),
      },
    ],
  };
}
