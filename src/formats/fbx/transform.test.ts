import { describe, expect, it } from 'vitest';
import { distance, type Vec3 } from '@/core/math/vec3';
import { Companions } from '../files/companions';
import { readFbx } from './read-fbx';

/**
 * Each case is a small text file with a parent P and a child C. The expected places were worked out by hand from the
 * published transform formula, with quarter turns so that every number can be checked on paper: a turn of 90 degrees
 * about z takes (x, y, z) to (-y, x, z), about x to (x, -z, y), about y to (z, y, -x).
 */
const P = (name: string, values: readonly number[]): string => `P: "${name}", "", "", "A",${values.join(',')}`;

const fileOf = (parent: readonly string[], child: readonly string[]): string => `; FBX 7.4.0 project file
FBXHeaderExtension:  {
  FBXVersion: 7400
}
Objects:  {
  Model: 1, "Model::P", "LimbNode" {
    Properties70:  {
      ${parent.join('\n      ')}
    }
  }
  Model: 2, "Model::C", "LimbNode" {
    Properties70:  {
      ${child.join('\n      ')}
    }
  }
}
Connections:  {
  C: "OO",1,0
  C: "OO",2,1
}
`;

const readWorlds = (parent: readonly string[], child: readonly string[]): number[][] => {
  const { nodes } = readFbx(new TextEncoder().encode(fileOf(parent, child)), 'fixture.fbx', new Companions([]));
  const worlds: number[][] = [];
  for (const node of nodes) {
    const [x, y, z, w] = node.rest.rotation;
    const s = node.rest.scale;
    const local = [
      (1 - 2 * (y * y + z * z)) * s[0],
      2 * (x * y + z * w) * s[0],
      2 * (x * z - y * w) * s[0],
      0,
      2 * (x * y - z * w) * s[1],
      (1 - 2 * (x * x + z * z)) * s[1],
      2 * (y * z + x * w) * s[1],
      0,
      2 * (x * z + y * w) * s[2],
      2 * (y * z - x * w) * s[2],
      (1 - 2 * (x * x + y * y)) * s[2],
      0,
      ...node.rest.translation,
      1,
    ];
    const above = worlds[node.parent];
    worlds.push(
      above
        ? Array.from({ length: 16 }, (_, at) =>
            [0, 1, 2, 3].reduce((sum, k) => sum + above[k * 4 + (at % 4)] * local[Math.floor(at / 4) * 4 + k], 0),
          )
        : local,
    );
  }
  return worlds;
};
const apply = (m: readonly number[], [x, y, z]: Vec3): Vec3 => [
  m[0] * x + m[4] * y + m[8] * z + m[12],
  m[1] * x + m[5] * y + m[9] * z + m[13],
  m[2] * x + m[6] * y + m[10] * z + m[14],
];

const ACTIVE = P('RotationActive', [1]);
const RSRS = P('InheritType', [1]);

/** Where the child's point (1, 0, 0) and its origin come to lie in the world. */
const CASES: readonly (readonly [
  title: string,
  parent: readonly string[],
  child: readonly string[],
  origin: Vec3,
  unitX: Vec3,
])[] = [
  ['translation', [P('Lcl Translation', [1, 2, 3])], [P('Lcl Translation', [10, 0, 0])], [11, 2, 3], [12, 2, 3]],
  [
    'rotation of the parent',
    [P('Lcl Rotation', [0, 0, 90])],
    [P('Lcl Translation', [10, 0, 0])],
    [0, 10, 0],
    [0, 11, 0],
  ],
  ['rotation order xyz: x first', [], [P('Lcl Rotation', [90, 0, 90])], [0, 0, 0], [0, 1, 0]],
  // y first takes (1,0,0) to (0,0,-1); x then to (0,1,0); z then to (-1,0,0).
  ['rotation order yxz', [], [ACTIVE, P('RotationOrder', [3]), P('Lcl Rotation', [90, 90, 90])], [0, 0, 0], [-1, 0, 0]],
  // z first takes (1,0,0) to (0,1,0); y leaves it; x then to (0,0,1).
  ['rotation order zyx', [], [ACTIVE, P('RotationOrder', [5]), P('Lcl Rotation', [90, 90, 90])], [0, 0, 0], [0, 0, 1]],
  // z first to (0,1,0); x to (0,0,1); y to (1,0,0).
  ['rotation order zxy', [], [ACTIVE, P('RotationOrder', [4]), P('Lcl Rotation', [90, 90, 90])], [0, 0, 0], [1, 0, 0]],
  // x leaves (1,0,0); z to (0,1,0); y leaves it.
  ['rotation order xzy', [], [ACTIVE, P('RotationOrder', [1]), P('Lcl Rotation', [90, 90, 90])], [0, 0, 0], [0, 1, 0]],
  // y to (0,0,-1); z leaves it; x to (0,1,0).
  ['rotation order yzx', [], [ACTIVE, P('RotationOrder', [2]), P('Lcl Rotation', [90, 90, 90])], [0, 0, 0], [0, 1, 0]],
  ['pre-rotation turns the whole joint', [], [ACTIVE, P('PreRotation', [0, 0, 90])], [0, 0, 0], [0, 1, 0]],
  [
    'pre-rotation acts after the rotation',
    [],
    [ACTIVE, P('PreRotation', [90, 0, 0]), P('Lcl Rotation', [0, 0, 90])],
    [0, 0, 0],
    [0, 0, 1],
  ],
  [
    'post-rotation is taken back, before the rotation',
    [],
    [ACTIVE, P('PostRotation', [0, 0, 90])],
    [0, 0, 0],
    [0, -1, 0],
  ],
  [
    'pre- and post-rotation that undo each other',
    [],
    [ACTIVE, P('PreRotation', [0, 0, 90]), P('PostRotation', [0, 0, 90])],
    [0, 0, 0],
    [1, 0, 0],
  ],
  [
    'pre-rotation, rotation and post-rotation',
    [],
    [ACTIVE, P('PreRotation', [0, 90, 0]), P('Lcl Rotation', [90, 0, 0]), P('PostRotation', [0, 0, -90])],
    [0, 0, 0],
    [1, 0, 0],
  ],
  [
    'pre-rotation does not count while rotation is not active',
    [],
    [P('PreRotation', [0, 0, 90])],
    [0, 0, 0],
    [1, 0, 0],
  ],
  // Turning about the pivot (1,0,0): the origin goes to (1,0,0) + (0,-1,0).
  ['rotation pivot', [], [P('RotationPivot', [1, 0, 0]), P('Lcl Rotation', [0, 0, 90])], [1, -1, 0], [1, 0, 0]],
  ['rotation offset', [], [P('RotationOffset', [0, 0, 5]), P('Lcl Rotation', [0, 0, 90])], [0, 0, 5], [0, 1, 5]],
  // Scaling about (1,0,0) by 3: the origin goes to -2, (1,0,0) stays.
  ['scaling pivot', [], [P('ScalingPivot', [1, 0, 0]), P('Lcl Scaling', [3, 3, 3])], [-2, 0, 0], [1, 0, 0]],
  ['scaling offset', [], [P('ScalingOffset', [0, 4, 0]), P('Lcl Scaling', [2, 2, 2])], [0, 4, 0], [2, 4, 0]],
  [
    'scaling offset is turned by the rotation',
    [],
    [P('ScalingOffset', [4, 0, 0]), P('Lcl Rotation', [0, 0, 90])],
    [0, 4, 0],
    [0, 5, 0],
  ],
  // T(10,0,0) Roff(0,1,0) Rp(1,0,0) R(z90) Rp^-1 Soff(0,0,2) Sp(1,0,0) S(2) Sp^-1. Origin: Sp^-1 -1, S -2, Sp -1, Soff z 2, Rp^-1 -2, R (0,-2), Rp (1,-2), Roff (1,-1), T (11,-1,2). Unit x: 0, 0, 1, z 2, 0, (0,0), (1,0), (1,1), (11,1,2).
  [
    'all of it together',
    [],
    [
      P('Lcl Translation', [10, 0, 0]),
      P('RotationOffset', [0, 1, 0]),
      P('RotationPivot', [1, 0, 0]),
      P('Lcl Rotation', [0, 0, 90]),
      P('ScalingOffset', [0, 0, 2]),
      P('ScalingPivot', [1, 0, 0]),
      P('Lcl Scaling', [2, 2, 2]),
    ],
    [11, -1, 2],
    [11, 1, 2],
  ],
  [
    'and below a turned, moved parent',
    [P('Lcl Translation', [0, 0, 7]), P('Lcl Rotation', [0, 0, 90])],
    [
      P('Lcl Translation', [10, 0, 0]),
      P('RotationOffset', [0, 1, 0]),
      P('RotationPivot', [1, 0, 0]),
      P('Lcl Rotation', [0, 0, 90]),
      P('ScalingOffset', [0, 0, 2]),
      P('ScalingPivot', [1, 0, 0]),
      P('Lcl Scaling', [2, 2, 2]),
    ],
    [1, 11, 9],
    [-1, 11, 9],
  ],
  // The parent scales x by 2; the child's x lies along the parent's y.
  [
    'inherit type RSrs: the parent scales in its own axes',
    [P('Lcl Scaling', [2, 1, 1])],
    [RSRS, P('Lcl Translation', [5, 0, 0]), P('Lcl Rotation', [0, 0, 90])],
    [10, 0, 0],
    [10, 1, 0],
  ],
  [
    "inherit type RrSs: the parent scales in the child's axes",
    [P('Lcl Scaling', [2, 1, 1])],
    [P('InheritType', [0]), P('Lcl Translation', [5, 0, 0]), P('Lcl Rotation', [0, 0, 90])],
    [10, 0, 0],
    [10, 2, 0],
  ],
  [
    "inherit type Rrs: the parent's own scale moves the child and does not stretch it",
    [P('Lcl Scaling', [2, 1, 1])],
    [P('InheritType', [2]), P('Lcl Translation', [5, 0, 0]), P('Lcl Rotation', [0, 0, 90])],
    [10, 0, 0],
    [10, 1, 0],
  ],
  [
    'inherit type Rrs keeps a uniform scale from the child',
    [P('Lcl Scaling', [3, 3, 3])],
    [P('InheritType', [2]), P('Lcl Translation', [1, 0, 0])],
    [3, 0, 0],
    [4, 0, 0],
  ],
];

describe('the transform stack, against places worked out by hand', () => {
  it.each(CASES)('%s', (_title, parent, child, origin, unitX) => {
    const [, world] = readWorlds(parent, child);
    expect(distance(apply(world, [0, 0, 0]), origin)).toBeLessThan(1e-9);
    expect(distance(apply(world, [1, 0, 0]), unitX)).toBeLessThan(1e-9);
  });
});
