import { add, lerp, normalise, subtract, type Vec3 } from '@/core/math/vec3';
import { ARM_PARTS, DIGITS, LEG_PARTS, SIDES, digitRoles } from '@/core/definition/definition';
import { bell, hands, neckAndHead, shoes, sleeves, torso, trousers, type Body } from '../figure/dress';
import { ellipsoid } from '../figure/mesh';
import { alongBone, between, bodyPlaces, SkeletonBuilder } from '../figure/skeleton';
import type { Figure } from '../figure/write-figure';

const PART_NAMES: Record<string, string> = {
  Shoulder: 'collar',
  UpperArm: 'arm',
  LowerArm: 'fore',
  Hand: 'hand',
  UpperLeg: 'leg',
  LowerLeg: 'shank',
  Foot: 'foot',
  Toes: 'tread',
};
const SKIRT = [
  ['a', 0.13, 0.1],
  ['b', 0.16, -0.02],
  ['c', 0.1, -0.13],
] as const;

/** A-pose, `.l`/`.r` marks, twist bones, an elbow helper and a skirt on bones; a pack seller's (Brinefold) habits. */
export function eelSeller(): Figure {
  const size = 0.93;
  const places = bodyPlaces({ size, breadth: 1.12, armsDownDegrees: 47, elbowDegrees: 12, feetOutDegrees: 6 });
  const builder = new SkeletonBuilder();
  const names = new Map<string, string>();
  const put = (role: string, parent: string, name: string, towards: Vec3, truth = role) => {
    names.set(
      role,
      builder.add(name, parent, places[role], truth, alongBone(subtract(towards, places[role]), [0, 0, 1])),
    );
  };
  const root = builder.add('bf_root', null, [0, 0, 0], 'root');
  const centre: [string, string][] = [
    ['hips', 'bf_hip'],
    ['spine', 'bf_back1'],
    ['chest', 'bf_back2'],
    ['upperChest', 'bf_back3'],
    ['neck', 'bf_neck'],
    ['head', 'bf_head'],
  ];
  centre.forEach(([role, name], at) => {
    const next = centre[at + 1] ? places[centre[at + 1][0]] : add(places[role], [0, 0.1, 0]);
    put(role, at === 0 ? root : centre[at - 1][1], name, next);
  });
  places.jaw = add(places.head, [0, 0.02 * size, 0.05 * size]);
  put('jaw', 'bf_head', 'bf_jaw', add(places.jaw, [0, -0.02, 0.05]));
  for (const side of SIDES) {
    const mark = side === 'left' ? '.l' : '.r';
    const chain = (parts: readonly string[], parent: string) =>
      parts.forEach((part, at) => {
        const role = side + part;
        const next = parts[at + 1]
          ? places[side + parts[at + 1]]
          : part === 'Toes'
            ? add(places[role], [0, 0, 0.1])
            : (places[`${side}MiddleProximal`] ?? places[role]);
        put(
          role,
          at === 0 ? parent : (names.get(side + parts[at - 1]) as string),
          `bf_${PART_NAMES[part]}${mark}`,
          next,
        );
      });
    chain(ARM_PARTS, 'bf_back3');
    chain(LEG_PARTS, 'bf_hip');
    for (const [twist, from, to, name] of [
      ['UpperTwist', 'UpperArm', 'LowerArm', 'arm-wring'],
      ['LowerTwist', 'LowerArm', 'Hand', 'fore-wring'],
    ] as const) {
      places[side + twist] = between(places[side + from], places[side + to], 0.5);
      put(side + twist, names.get(side + from) as string, `bf_${name}${mark}`, places[side + to], 'twist');
    }
    places[`${side}Bend`] = add(places[`${side}LowerArm`], [0, 0, -0.012]);
    put(`${side}Bend`, names.get(`${side}UpperArm`) as string, `bf_bend${mark}`, places[`${side}Hand`], 'helper');
    for (const digit of DIGITS) {
      const roles = digitRoles(side, digit);
      roles.forEach((role, at) =>
        put(
          role,
          at === 0 ? (names.get(`${side}Hand`) as string) : (names.get(roles[at - 1]) as string),
          `bf_${digit.toLowerCase()}${at + 1}${mark}`,
          places[roles[at + 1]] ??
            add(places[role], normalise(subtract(places[role], places[roles[at - 1]])) ?? [0, 0, 0]),
        ),
      );
    }
    for (const [letter, x, z] of SKIRT) {
      const sign = side === 'left' ? 1 : -1;
      [0.86, 0.66, 0.46].forEach((y, at) => {
        const key = `${side}Skirt${letter}${at}`;
        const spread = 1 + at * 0.32;
        places[key] = [sign * x * spread, y * size, z * spread];
        put(
          key,
          at === 0 ? 'bf_hip' : (names.get(`${side}Skirt${letter}${at - 1}`) as string),
          `bf_skirt-${letter}${at + 1}${mark}`,
          add(places[key], [0, -0.1, 0]),
          'dangling',
        );
      });
    }
  }
  const body: Body = {
    name: (role) => names.get(role) ?? 'bf_hip',
    place: (role) => places[role],
    has: (role) => names.has(role),
    size,
    girth: 1.18,
  };
  const head = add(places.head, [0, 0.1 * size, 0.012]);
  const from = add(places.hips, [0, 0.08, 0]);
  const to: Vec3 = [0, 0.3, -0.01];
  return {
    name: 'Eel seller',
    joints: builder.joints,
    materials: {
      skin: { colour: [0.55, 0.36, 0.27] },
      blouse: { colour: [0.72, 0.66, 0.55] },
      skirt: { colour: [0.22, 0.4, 0.42] },
      stockings: { colour: [0.35, 0.28, 0.26] },
      clogs: { colour: [0.5, 0.36, 0.2] },
      kerchief: { colour: [0.7, 0.28, 0.24] },
    },
    parts: [
      torso(body, 'blouse'),
      ...sleeves(body, 'blouse', 0.034),
      ...neckAndHead(body, 'skin'),
      ...hands(body, 'skin'),
      ...trousers(body, 'stockings', 0.045),
      ...shoes(body, 'clogs'),
      bell(body, 'skirt', from, to, [0.178, 0.32], (point, share) => weighSkirt(point, share, places, body)),
      ellipsoid(
        'kerchief',
        add(head, [0, 0.022, -0.022]),
        [0.086, 0.112, 0.096],
        [{ bone: body.name('head'), weight: 1 }],
        ([x, y, z]) => [x, y, Math.min(z, 0.35)],
      ),
      ellipsoid(
        'kerchief',
        add(head, [0, -0.02, -0.125]),
        [0.035, 0.05, 0.03],
        [{ bone: body.name('head'), weight: 1 }],
      ),
      ellipsoid(
        'skin',
        add(places.jaw, [0, -0.006, 0.018]),
        [0.038, 0.02, 0.032],
        [
          { bone: body.name('jaw'), weight: 0.7 },
          { bone: body.name('head'), weight: 0.3 },
        ],
      ),
      ellipsoid(
        'blouse',
        add(places.leftBend, [0, 0, 0.004]),
        [0.04, 0.04, 0.04],
        [
          { bone: body.name('leftBend'), weight: 0.5 },
          { bone: body.name('leftLowerArm'), weight: 0.5 },
        ],
      ),
      ellipsoid(
        'blouse',
        add(places.rightBend, [0, 0, 0.004]),
        [0.04, 0.04, 0.04],
        [
          { bone: body.name('rightBend'), weight: 0.5 },
          { bone: body.name('rightLowerArm'), weight: 0.5 },
        ],
      ),
    ],
    clips: [
      {
        name: 'Call across the square',
        seconds: 1.6,
        swings: [
          { joint: body.name('head'), axis: [1, 0, 0], degrees: -10 },
          { joint: body.name('rightUpperArm'), axis: [0, 0, 1], degrees: -35 },
          { joint: body.name('rightLowerArm'), axis: [0, 1, 0], degrees: 30 },
        ],
      },
    ],
  };
}

/** Nearest two skirt chains lead, the row by height, the hips at the waist. */
function weighSkirt(
  point: Vec3,
  share: number,
  places: Record<string, Vec3>,
  body: Body,
): { bone: string; weight: number }[] {
  const near: { bone: string; weight: number }[] = [];
  const row = Math.min(2, Math.max(0, share * 3 - 0.4));
  const [low, high] = [Math.floor(row), Math.min(2, Math.floor(row) + 1)];
  for (const side of SIDES) {
    for (const [letter] of SKIRT) {
      const place = lerp(places[`${side}Skirt${letter}${low}`], places[`${side}Skirt${letter}${high}`], row - low);
      const away = Math.hypot(point[0] - place[0], point[2] - place[2]);
      near.push({ bone: `${side}Skirt${letter}`, weight: 1 / (0.02 + away) ** 3 });
    }
  }
  near.sort((a, b) => b.weight - a.weight);
  const [first, second] = near;
  const hold = Math.max(0, 1 - share * 4);
  const share1 = (first.weight / (first.weight + second.weight)) * (1 - hold);
  const share2 = 1 - hold - share1;
  const upper = row - low;
  const list = [
    { bone: body.name('hips'), weight: hold },
    { bone: body.name(`${first.bone}${low}`), weight: share1 * (1 - upper) },
    { bone: body.name(`${first.bone}${high}`), weight: share1 * upper },
    { bone: body.name(`${second.bone}${low}`), weight: share2 },
  ];
  const merged = new Map<string, number>();
  for (const { bone, weight } of list) if (weight > 1e-4) merged.set(bone, (merged.get(bone) ?? 0) + weight);
  return [...merged].map(([bone, weight]) => ({ bone, weight }));
}
