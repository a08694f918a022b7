import { add, scale, subtract, type Vec3 } from '@/core/math/vec3';
import { ellipsoid, tube, type PartMesh } from './mesh';
import { between } from './skeleton';

/** Names and places of a figure's bones by role; what the mesh is built around. */
export interface Body {
  readonly name: (role: string) => string;
  readonly place: (role: string) => Vec3;
  readonly has: (role: string) => boolean;
  readonly size: number;
  /** Factor on all radii: 1 is slim, 1.4 stout. */
  readonly girth: number;
}

const SIDES = ['left', 'right'] as const;

/** Hips to neck in one piece, with shoulders. */
export function torso(body: Body, material: string): PartMesh {
  const g = body.girth * body.size;
  const hips = body.place('hips');
  const low = add(hips, [0, -0.1 * body.size, 0]);
  return tube({
    material,
    path: [
      low,
      hips,
      body.place('spine'),
      body.place('chest'),
      add(body.place('upperChest'), [0, 0.04 * body.size, 0]),
      add(body.place('neck'), [0, -0.03 * body.size, 0]),
      body.place('neck'),
    ],
    radii: [
      [0.11 * g, 0.085 * g],
      [0.15 * g, 0.105 * g],
      [0.135 * g, 0.1 * g],
      [0.15 * g, 0.11 * g],
      [0.17 * g, 0.11 * g],
      [0.1 * g, 0.075 * g],
      [0.055 * g, 0.055 * g],
    ],
    leads: [
      { bone: body.name('hips'), at: 0 },
      { bone: body.name('spine'), at: 0.3 },
      { bone: body.name('chest'), at: 0.5 },
      { bone: body.name('upperChest'), at: 0.7 },
      { bone: body.name('neck'), at: 0.97 },
    ],
    blend: 0.16,
    sides: 20,
    rings: 26,
  });
}

export function neckAndHead(body: Body, skin: string): PartMesh[] {
  const s = body.size;
  const [neck, head] = [body.place('neck'), body.place('head')];
  const middle = add(head, [0, 0.1 * s, 0.018 * s]);
  const parts = [
    tube({
      material: skin,
      path: [add(neck, [0, -0.03 * s, 0]), neck, add(head, [0, 0.02 * s, 0])],
      radii: [
        [0.06 * s, 0.06 * s],
        [0.05 * s, 0.052 * s],
        [0.05 * s, 0.055 * s],
      ],
      leads: [
        { bone: body.name('neck'), at: 0 },
        { bone: body.name('head'), at: 0.75 },
      ],
      blend: 0.4,
      rings: 8,
    }),
    // A chin: the lower front of the egg is drawn in.
    ellipsoid(
      skin,
      middle,
      [0.078 * s, 0.115 * s, 0.095 * s],
      [{ bone: body.name('head'), weight: 1 }],
      ([x, y, z]) => [x * (y < 0 ? 1 + y * 0.28 : 1), y, z * (y < -0.2 ? 1 + (y + 0.2) * 0.25 : 1)],
    ),
    ellipsoid(
      skin,
      add(middle, [0, -0.012 * s, 0.095 * s]),
      [0.014 * s, 0.022 * s, 0.02 * s],
      [{ bone: body.name('head'), weight: 1 }],
    ),
  ];
  return parts;
}

/** Both arms from the shoulder to the wrist, clavicle and twist bones included where the figure has them. */
export function sleeves(body: Body, material: string, cuff: number): PartMesh[] {
  const g = body.girth * body.size;
  return SIDES.map((side) => {
    const [shoulder, upper, lower, hand] = ['Shoulder', 'UpperArm', 'LowerArm', 'Hand'].map((part) =>
      body.place(side + part),
    );
    const start = between(shoulder, upper, 0.45);
    const leads = [
      { bone: body.name(`${side}Shoulder`), at: 0 },
      { bone: body.name(`${side}UpperArm`), at: 0.14 },
      ...(body.has(`${side}UpperTwist`) ? [{ bone: body.name(`${side}UpperTwist`), at: 0.36 }] : []),
      { bone: body.name(`${side}LowerArm`), at: 0.56 },
      ...(body.has(`${side}LowerTwist`) ? [{ bone: body.name(`${side}LowerTwist`), at: 0.8 }] : []),
      { bone: body.name(`${side}Hand`), at: 0.985 },
    ];
    return tube({
      material,
      path: [start, upper, between(upper, lower, 0.5), lower, between(lower, hand, 0.5), hand],
      radii: [
        [0.055 * g, 0.07 * g],
        [0.062 * g, 0.062 * g],
        [0.05 * g, 0.05 * g],
        [0.044 * g, 0.044 * g],
        [0.042 * g, 0.04 * g],
        [cuff * g, cuff * 0.9 * g],
      ],
      leads,
      blend: 0.09,
      rings: 30,
      front: [0, 0, 1],
    });
  });
}

/** Palm and all digits that the figure has. */
export function hands(body: Body, skin: string): PartMesh[] {
  const s = body.size;
  return SIDES.flatMap((side) => {
    const hand = body.place(`${side}Hand`);
    const knuckles = body.has(`${side}MiddleProximal`)
      ? body.place(`${side}MiddleProximal`)
      : add(hand, scale(subtract(hand, body.place(`${side}LowerArm`)), 0.35));
    const palm = tube({
      material: skin,
      path: [
        add(hand, scale(subtract(body.place(`${side}LowerArm`), hand), 0.06)),
        between(hand, knuckles, 0.5),
        between(hand, knuckles, 1.08),
      ],
      radii: [
        [0.019 * s, 0.026 * s],
        [0.017 * s, 0.046 * s],
        [0.012 * s, 0.045 * s],
      ],
      leads: [
        { bone: body.name(`${side}LowerArm`), at: 0 },
        { bone: body.name(`${side}Hand`), at: 0.08 },
      ],
      blend: 0.12,
      rings: 8,
    });
    return [palm, ...digits(body, side, skin)];
  });
}

function digits(body: Body, side: string, skin: string): PartMesh[] {
  const s = body.size;
  const chains = [
    ['ThumbMetacarpal', 'ThumbProximal', 'ThumbDistal'],
    ...['Index', 'Middle', 'Ring', 'Little'].map((digit) => [
      `${digit}Proximal`,
      `${digit}Intermediate`,
      `${digit}Distal`,
    ]),
  ];
  return chains
    .filter((chain) => body.has(side + chain[0]))
    .map((chain) => {
      const roles = chain.map((part) => side + part).filter((role) => body.has(role));
      const places = roles.map((role) => body.place(role));
      const last = places[places.length - 1];
      const before = places.length > 1 ? places[places.length - 2] : body.place(`${side}Hand`);
      const tip = add(last, scale(subtract(last, before), 0.85));
      const base = add(places[0], scale(subtract(body.place(`${side}Hand`), places[0]), 0.25));
      const radius = (chain[0].startsWith('Thumb') ? 0.0125 : chain[0].startsWith('Little') ? 0.0085 : 0.0102) * s;
      const path = [base, ...places, tip];
      return tube({
        material: skin,
        path,
        radii: path.map((_, at) => {
          const r = radius * (1 - 0.09 * at);
          return [r, r] as const;
        }),
        leads: [
          { bone: body.name(`${side}Hand`), at: 0 },
          ...roles.map((role, at) => ({ bone: body.name(role), at: (at + 0.35) / (roles.length + 0.6) })),
        ],
        blend: 0.12,
        sides: 8,
        rings: 14,
      });
    });
}

/** Both legs from the hip to the ankle. */
export function trousers(body: Body, material: string, hem: number): PartMesh[] {
  const g = body.girth * body.size;
  return SIDES.map((side) => {
    const [thigh, shin, foot] = ['UpperLeg', 'LowerLeg', 'Foot'].map((part) => body.place(side + part));
    return tube({
      material,
      path: [
        add(thigh, [thigh[0] * -0.3, 0.04 * body.size, 0]),
        between(thigh, shin, 0.3),
        between(thigh, shin, 0.7),
        shin,
        between(shin, foot, 0.4),
        foot,
      ],
      radii: [
        [0.05 * g, 0.075 * g],
        [0.082 * g, 0.088 * g],
        [0.066 * g, 0.07 * g],
        [0.056 * g, 0.06 * g],
        [0.055 * g, 0.06 * g],
        [hem * g, hem * g],
      ],
      leads: [
        { bone: body.name('hips'), at: 0 },
        { bone: body.name(`${side}UpperLeg`), at: 0.06 },
        { bone: body.name(`${side}LowerLeg`), at: 0.52 },
        { bone: body.name(`${side}Foot`), at: 0.985 },
      ],
      blend: 0.1,
      rings: 28,
    });
  });
}

/** Shoes that stand flat on the floor. */
export function shoes(body: Body, material: string): PartMesh[] {
  const s = body.size;
  return SIDES.flatMap((side) => {
    const [foot, toes] = [body.place(`${side}Foot`), body.place(`${side}Toes`)];
    const ahead = subtract(toes, foot);
    const heel: Vec3 = [foot[0] - ahead[0] * 0.35, 0.036 * s, foot[2] - 0.05 * s];
    const tip: Vec3 = [toes[0] + ahead[0] * 0.5, 0.026 * s, toes[2] + 0.085 * s];
    const middle: Vec3 = [between(foot, toes, 0.5)[0], 0.042 * s, between(foot, toes, 0.5)[2]];
    const ball: Vec3 = [toes[0], 0.032 * s, toes[2]];
    return [
      tube({
        material,
        path: [heel, [foot[0], 0.05 * s, foot[2]], middle, ball, tip],
        radii: [
          [0.028 * s, 0.03 * s],
          [0.042 * s, 0.05 * s],
          [0.044 * s, 0.042 * s],
          [0.046 * s, 0.032 * s],
          [0.024 * s, 0.018 * s],
        ],
        leads: [
          { bone: body.name(`${side}Foot`), at: 0 },
          { bone: body.name(`${side}Toes`), at: 0.68 },
        ],
        blend: 0.2,
        rings: 16,
        front: [0, 1, 0],
      }),
      tube({
        material,
        path: [add(foot, [0, 0.1 * s, 0]), add(foot, [0, 0.02 * s, 0]), [foot[0], 0.04 * s, foot[2]]],
        radii: [
          [0.052 * s, 0.056 * s],
          [0.05 * s, 0.054 * s],
          [0.044 * s, 0.05 * s],
        ],
        leads: [
          { bone: body.name(`${side}LowerLeg`), at: 0 },
          { bone: body.name(`${side}Foot`), at: 0.55 },
        ],
        blend: 0.4,
        rings: 8,
      }),
    ];
  });
}

/** An open bell of cloth below the hips, weighted to the hips and to whatever hangs in it. */
export function bell(
  body: Body,
  material: string,
  from: Vec3,
  to: Vec3,
  radii: readonly [top: number, bottom: number],
  weigh: (point: Vec3, share: number) => { bone: string; weight: number }[],
): PartMesh {
  const s = body.size;
  const mesh = tube({
    material,
    path: [from, between(from, to, 0.35), between(from, to, 0.7), to],
    radii: [0, 0.35, 0.7, 1].map((share) => {
      const r = (radii[0] + (radii[1] - radii[0]) * share) * s;
      return [r, r * 0.82] as const;
    }),
    leads: [{ bone: body.name('hips'), at: 0 }],
    blend: 0.1,
    sides: 24,
    rings: 16,
    openStart: true,
    openEnd: true,
  });
  const length = Math.max(1e-6, from[1] - to[1]);
  const weights = mesh.weights.map((_, vertex) => {
    const point: Vec3 = [mesh.positions[vertex * 3], mesh.positions[vertex * 3 + 1], mesh.positions[vertex * 3 + 2]];
    return weigh(point, Math.max(0, Math.min(1, (from[1] - point[1]) / length)));
  });
  return { ...mesh, weights };
}
