import { add, type Vec3 } from '@/core/math/vec3';
import { ellipsoid, tube, type PartMesh } from '../figure/mesh';
import { SkeletonBuilder } from '../figure/skeleton';
import type { Figure } from '../figure/write-figure';

/** A chain of bones with a tube of mesh around it. */
function limb(
  builder: SkeletonBuilder,
  material: string,
  parent: string | null,
  names: readonly string[],
  places: readonly Vec3[],
  radii: readonly number[],
  end: Vec3,
): PartMesh {
  names.forEach((name, at) => builder.add(name, at === 0 ? parent : names[at - 1], places[at], 'none'));
  const path = [...places, end];
  return tube({
    material,
    path,
    radii: path.map((_, at) => {
      const r = radii[Math.min(at, radii.length - 1)];
      return [r, r] as const;
    }),
    leads: names.map((name, at) => ({ bone: name, at: at / path.length })),
    blend: 0.14,
    sides: 12,
  });
}

const SIDES = [
  ['L', 1],
  ['R', -1],
] as const;

/** Stands in the harbour on one idea: fish. A bird; its wings must not be taken for arms. */
export function harbourHeron(): Figure {
  const builder = new SkeletonBuilder();
  const parts: PartMesh[] = [
    limb(
      builder,
      'grey',
      null,
      ['trunk_a', 'trunk_b'],
      [
        [0, 0.86, -0.16],
        [0, 0.92, 0.02],
      ],
      [0.1, 0.16, 0.09],
      [0, 0.98, 0.18],
    ),
    limb(
      builder,
      'grey',
      'trunk_b',
      ['nape1', 'nape2', 'nape3', 'nape4', 'nape5'],
      [
        [0, 0.99, 0.2],
        [0, 1.1, 0.3],
        [0, 1.24, 0.28],
        [0, 1.36, 0.22],
        [0, 1.47, 0.24],
      ],
      [0.05, 0.038, 0.032, 0.03, 0.03],
      [0, 1.53, 0.28],
    ),
    limb(builder, 'grey', 'nape5', ['skull'], [[0, 1.54, 0.29]], [0.045, 0.04], [0, 1.55, 0.38]),
    limb(builder, 'horn', 'skull', ['beak_up'], [[0, 1.55, 0.37]], [0.022, 0.004], [0, 1.54, 0.6]),
    limb(
      builder,
      'slate',
      'trunk_a',
      ['fan1', 'fan2'],
      [
        [0, 0.82, -0.26],
        [0, 0.76, -0.38],
      ],
      [0.05, 0.05, 0.03],
      [0, 0.7, -0.48],
    ),
  ];
  for (const [mark, sign] of SIDES) {
    parts.push(
      limb(
        builder,
        'slate',
        'trunk_b',
        [`pinion${mark}1`, `pinion${mark}2`, `pinion${mark}3`],
        [
          [0.12 * sign, 1.0, 0.06],
          [0.2 * sign, 0.94, -0.12],
          [0.19 * sign, 0.88, -0.3],
        ],
        [0.05, 0.045, 0.03],
        [0.14 * sign, 0.8, -0.46],
      ),
      limb(
        builder,
        'horn',
        'trunk_a',
        [`leg${mark}1`, `leg${mark}2`, `leg${mark}3`, `leg${mark}4`],
        [
          [0.07 * sign, 0.82, -0.08],
          [0.08 * sign, 0.7, 0.02],
          [0.08 * sign, 0.4, -0.06],
          [0.08 * sign, 0.03, 0],
        ],
        [0.035, 0.018, 0.014, 0.014],
        [0.08 * sign, 0.015, 0.12],
      ),
      limb(
        builder,
        'horn',
        `leg${mark}4`,
        [`claw${mark}`],
        [[0.08 * sign, 0.02, -0.03]],
        [0.01, 0.005],
        [0.08 * sign, 0.012, -0.11],
      ),
    );
  }
  return {
    name: 'Harbour heron',
    joints: builder.joints,
    materials: {
      grey: { colour: [0.62, 0.66, 0.7] },
      slate: { colour: [0.28, 0.33, 0.4] },
      horn: { colour: [0.72, 0.56, 0.28] },
    },
    parts,
    clips: [{ name: 'Look for fish', seconds: 1, swings: [{ joint: 'nape3', axis: [1, 0, 0], degrees: 12 }] }],
  };
}

/** Carries what the boats bring: four legs, a long head, baskets. */
export function marketMule(): Figure {
  const builder = new SkeletonBuilder();
  const parts: PartMesh[] = [
    limb(
      builder,
      'hide',
      null,
      ['croup', 'loin', 'withers'],
      [
        [0, 1.2, -0.55],
        [0, 1.22, -0.2],
        [0, 1.24, 0.2],
      ],
      [0.2, 0.24, 0.22, 0.16],
      [0, 1.2, 0.5],
    ),
    limb(
      builder,
      'hide',
      'withers',
      ['crest1', 'crest2', 'poll'],
      [
        [0, 1.3, 0.5],
        [0, 1.5, 0.66],
        [0, 1.68, 0.8],
      ],
      [0.14, 0.11, 0.09, 0.09],
      [0, 1.7, 0.9],
    ),
    limb(builder, 'hide', 'poll', ['muzzle'], [[0, 1.66, 0.92]], [0.09, 0.06], [0, 1.5, 1.2]),
    limb(
      builder,
      'mane',
      'croup',
      ['dock1', 'dock2', 'dock3'],
      [
        [0, 1.16, -0.74],
        [0, 0.98, -0.82],
        [0, 0.8, -0.84],
      ],
      [0.035, 0.03, 0.04, 0.01],
      [0, 0.6, -0.85],
    ),
  ];
  for (const [mark, sign] of SIDES) {
    const x = 0.16 * sign;
    parts.push(
      limb(
        builder,
        'hide',
        'croup',
        [`stifle${mark}`, `gaskin${mark}`, `cannonH${mark}`, `hoofH${mark}`],
        [
          [x, 1.02, -0.56],
          [x, 0.72, -0.46],
          [x, 0.44, -0.62],
          [x, 0.1, -0.56],
        ],
        [0.12, 0.08, 0.05, 0.05],
        [x, 0.0, -0.5],
      ),
      limb(
        builder,
        'hide',
        'withers',
        [`brisket${mark}`, `knee${mark}`, `cannonF${mark}`, `hoofF${mark}`],
        [
          [x, 1.02, 0.38],
          [x, 0.68, 0.34],
          [x, 0.4, 0.38],
          [x, 0.1, 0.38],
        ],
        [0.1, 0.07, 0.045, 0.05],
        [x, 0.0, 0.44],
      ),
      limb(
        builder,
        'mane',
        'poll',
        [`lug${mark}`],
        [[0.06 * sign, 1.76, 0.82]],
        [0.03, 0.006],
        [0.11 * sign, 2.0, 0.8],
      ),
    );
    builder.add(`basket${mark}`, 'loin', [0.32 * sign, 1.1, -0.1], 'none');
    parts.push(
      ellipsoid(
        'wicker',
        add([0.34 * sign, 1.0, -0.1], [0, 0, 0]),
        [0.14, 0.2, 0.22],
        [{ bone: `basket${mark}`, weight: 1 }],
      ),
    );
  }
  return {
    name: 'Market mule',
    joints: builder.joints,
    materials: {
      hide: { colour: [0.4, 0.32, 0.26] },
      mane: { colour: [0.14, 0.11, 0.1] },
      wicker: { colour: [0.68, 0.54, 0.32] },
    },
    parts,
    clips: [{ name: 'Twitch', seconds: 1, swings: [{ joint: 'lugL', axis: [0, 0, 1], degrees: 25 }] }],
  };
}
