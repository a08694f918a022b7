import { describe, expect, it } from 'vitest';
import { refusalOf } from '../../../tests/helpers/refusal';
import { Companions } from '../files/companions';
import { readFbx } from './read-fbx';

const read = (text: string) => readFbx(new TextEncoder().encode(text), 'quay.fbx', new Companions([]));
const array = (name: string, ...values: number[]) => `${name}: *${values.length} { a: ${values.join(',')} }`;
const props = (...lines: [name: string, ...values: (number | string)[]][]) =>
  `Properties70: {\n${lines.map(([name, ...values]) => `P: "${name}", "", "", "",${values.join(',')}`).join('\n')}\n}`;
const model = (id: number, name: string, type: string, ...lines: [string, ...(number | string)[]][]) =>
  `Model: ${id}, "Model::${name}", "${type}" {\n${props(['InheritType', 1], ...lines)}\n}`;
const SQUARE = [array('Vertices', 0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0), array('PolygonVertexIndex', 0, 1, 2, -4)].join(
  '\n',
);
const mesh = (id: number, body = SQUARE) => `Geometry: ${id}, "Geometry::sail", "Mesh" {\n${body}\n}`;
const matrix = (x: number, y: number, z: number) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1];
const cluster = (id: number, indexes: number[], weights: number[], link: number[], transform: number[]) =>
  `Deformer: ${id}, "SubDeformer::", "Cluster" {\n${array('Indexes', ...indexes)}\n${array('Weights', ...weights)}\n${array('Transform', ...transform)}\n${array('TransformLink', ...link)}\n}`;
const skin = (id: number) => `Deformer: ${id}, "Deformer::", "Skin" {\n}`;

const file = (
  objects: string[],
  links: [number, number, string?][],
  settings: [string, number][] = [],
  version = 7400,
) => `; FBX project file
FBXHeaderExtension: {
  FBXVersion: ${version}
  Creator: "by hand"
}
GlobalSettings: {
${props(...settings)}
}
Objects: {
${objects.join('\n')}
}
Connections: {
${links.map(([child, parent, property]) => (property ? `C: "OP",${child},${parent}, "${property}"` : `C: "OO",${child},${parent}`)).join('\n')}
}
`;

describe('meshes', () => {
  it('a geometric transform moves the mesh and not what hangs below', () => {
    const { nodes, meshes } = read(
      file(
        [
          model(
            1,
            'boom',
            'Mesh',
            ['GeometricTranslation', 0, 0, 5],
            ['GeometricRotation', 0, 0, 90],
            ['GeometricScaling', 2, 2, 2],
          ),
          model(2, 'lamp', 'LimbNode', ['Lcl Translation', 1, 0, 0]),
          mesh(3),
        ],
        [
          [1, 0],
          [2, 1],
          [3, 1],
        ],
      ),
    );
    expect(nodes.map((node) => [node.name, ...node.rest.translation])).toEqual([
      ['boom', 0, 0, 0],
      ['lamp', 1, 0, 0],
    ]);
    // Twice as large, turned to the left, lifted by 5: (1,0,0) comes to (0,2,5).
    const [, ...second] = [...meshes[0].parts[0].positions].reduce<number[][]>(
      (rows, value, at) => (at % 3 === 0 ? [...rows, [value]] : (rows[rows.length - 1].push(value), rows)),
      [],
    );
    second[0].forEach((value, axis) => expect(value).toBeCloseTo([0, 2, 5][axis], 6));
    expect(meshes[0].skin).toBeNull();
    expect([...meshes[0].parts[0].indices]).toEqual([0, 1, 2, 0, 2, 3]);
  });

  it('keeps every influence, however many, and tells several skins apart', () => {
    const bones = [10, 11, 12, 13, 14, 15];
    const objects = [
      ...bones.map((id) => model(id, `b${id}`, 'LimbNode', ['Lcl Translation', id, 0, 0])),
      model(1, 'one', 'Mesh'),
      model(2, 'two', 'Mesh'),
      mesh(3),
      mesh(4),
      skin(5),
      skin(6),
      ...bones.map((id, at) => cluster(20 + at, [0], [1 / 6], matrix(id, 0, 0), matrix(-id, 0, 0))),
      cluster(30, [0, 1, 2, 3], [1, 1, 1, 1], matrix(10, 0, 0), matrix(-10, 0, 0)),
    ];
    const links: [number, number][] = [
      ...bones.map((id): [number, number] => [id, 0]),
      [1, 0],
      [2, 0],
      [3, 1],
      [4, 2],
      [5, 3],
      [6, 4],
      ...bones.flatMap((id, at): [number, number][] => [
        [20 + at, 5],
        [id, 20 + at],
      ]),
      [30, 6],
      [10, 30],
    ];
    const { meshes, facts } = read(file(objects, links));
    expect(meshes[0].parts[0].perVertex).toBe(8);
    expect([...(meshes[0].parts[0].weights ?? [])].slice(0, 8).filter((weight) => weight > 0)).toHaveLength(6);
    expect(meshes.map((entry) => entry.skin?.joints.length)).toEqual([6, 1]);
    expect(facts.remarks.join(' ')).toMatch(/3 vertices of sail are bound to no bone/);
  });

  it("takes the mesh's own place from the clusters, whichever way they write it", () => {
    const objects = (transform: number[]) => [
      model(1, 'mast', 'LimbNode', ['Lcl Translation', 0, 3, 0]),
      model(2, 'sail', 'Mesh'),
      mesh(3),
      skin(4),
      cluster(5, [0, 1, 2, 3], [1, 1, 1, 1], matrix(0, 3, 0), transform),
      model(6, 'top', 'LimbNode', ['Lcl Translation', 0, 2, 0]),
      cluster(7, [0], [0.5], matrix(0, 5, 0), transform === ABSOLUTE ? ABSOLUTE : matrix(7, -5, 0)),
    ];
    const ABSOLUTE = matrix(7, 0, 0);
    const links: [number, number][] = [
      [1, 0],
      [6, 1],
      [2, 0],
      [3, 2],
      [4, 3],
      [5, 4],
      [1, 5],
      [7, 4],
      [6, 7],
    ];
    // Relative to the bone (its world is (0,3,0)), or absolute: the mesh stood at (7,0,0).
    for (const transform of [matrix(7, -3, 0), ABSOLUTE]) {
      const [part] = read(file(objects(transform), links)).meshes[0].parts;
      expect([...part.positions.slice(0, 3)]).toEqual([7, 0, 0]);
    }
  });
});

describe('facts', () => {
  it('unit, axes, rate and creator come from the header', () => {
    const { facts } = read(
      file(
        [model(1, 'a', 'LimbNode')],
        [[1, 0]],
        [
          ['UpAxis', 2],
          ['UpAxisSign', 1],
          ['FrontAxis', 1],
          ['FrontAxisSign', -1],
          ['CoordAxis', 0],
          ['CoordAxisSign', 1],
          ['UnitScaleFactor', 2.54],
        ],
      ),
    );
    expect(facts).toMatchObject({
      format: 'fbx',
      version: '7.4 ASCII',
      unitMetres: 0.0254,
      up: '+Z',
      handedness: 'right',
      generator: 'by hand',
    });
  });

  it('a left-handed scene is mirrored, and its triangles turned over', () => {
    const { nodes, meshes, facts } = read(
      file(
        [model(1, 'a', 'Mesh', ['Lcl Translation', 3, 1, 2]), mesh(2)],
        [
          [1, 0],
          [2, 1],
        ],
        [
          ['UpAxis', 1],
          ['UpAxisSign', 1],
          ['FrontAxis', 2],
          ['FrontAxisSign', 1],
          ['CoordAxis', 0],
          ['CoordAxisSign', -1],
        ],
      ),
    );
    expect(facts.handedness).toBe('left');
    expect(nodes[0].rest.translation).toEqual([-3, 1, 2]);
    expect([...meshes[0].parts[0].positions.slice(3, 6)]).toEqual([-1, 0, 0]);
    expect([...meshes[0].parts[0].indices]).toEqual([0, 2, 1, 0, 3, 2]);
  });

  it('names stay exactly as they are, odd ones too', () => {
    const names = ['Mast.001', 'left  hand', 'ns:arm_L', 'Größe', 'a|b', '手'];
    expect(
      read(
        file(
          names.map((name, at) => model(at + 1, name, 'LimbNode')),
          names.map((_, at) => [at + 1, 0]),
        ),
      ).nodes.map((node) => node.name),
    ).toEqual(names);
  });
});

describe('takes', () => {
  const curve = (id: number, times: number[], values: number[], flags: number, data: number[] = [0, 0, 0, 0]) =>
    `AnimationCurve: ${id}, "AnimCurve::", "" {\n${array('KeyTime', ...times.map((seconds) => seconds * 46186158000))}\n${array('KeyValueFloat', ...values)}\n${array('KeyAttrFlags', flags)}\n${array('KeyAttrDataFloat', ...data)}\n${array('KeyAttrRefCount', times.length)}\n}`;
  const take = (id: number, name: string, stop: number) =>
    `AnimationStack: ${id}, "AnimStack::${name}", "" {\n${props(['LocalStart', 0], ['LocalStop', stop * 46186158000])}\n}\nAnimationLayer: ${id + 1}, "AnimLayer::", "" {\n}\nAnimationCurveNode: ${id + 2}, "AnimCurveNode::T", "" {\n${props(['d|X', 0], ['d|Y', 0], ['d|Z', 9])}\n}`;
  const links = (id: number, curveId: number): [number, number, string?][] => [
    [id + 1, id],
    [id + 2, id + 1],
    [id + 2, 1, 'Lcl Translation'],
    [curveId, id + 2, 'd|X'],
  ];
  const values = (flags: number, data?: number[], rate = 3) => {
    const { clips } = read(
      file(
        [
          model(1, 'buoy', 'LimbNode', ['Lcl Translation', 5, 5, 5]),
          take(100, 'Bob', 1),
          curve(110, [0, 1], [0, 8], flags, data),
        ],
        [[1, 0], ...links(100, 110)],
        [['TimeMode', rate]],
      ),
    );
    const track = clips[0].tracks.find((entry) => entry.path === 'translation');
    return {
      clip: clips[0],
      track,
      at: (seconds: number) =>
        track?.values.slice(
          3 * [...track.times].findIndex((time) => Math.abs(time - seconds) < 1e-4),
          3 * [...track.times].findIndex((time) => Math.abs(time - seconds) < 1e-4) + 3,
        ),
    };
  };

  it("are sampled at the file's rate within their range; what is not keyed comes from the curve node", () => {
    const { track, at } = values(4);
    expect(track?.times).toHaveLength(61);
    [4, 0, 9].forEach((value, axis) => expect(at(0.5)?.[axis]).toBeCloseTo(value, 5));
  });

  it('hold, or curve by their slopes', () => {
    expect(values(2).at(0.5)?.[0]).toBe(0);
    expect(values(2 | 0x100).at(0.5)?.[0]).toBe(8);
    // Hermite with flat ends: half way at half time; with a steep start 8 per second: 4 + 8/8 - 0 = 5 at half time.
    expect(values(8).at(0.25)?.[0]).toBeCloseTo(8 * (3 * 0.0625 - 2 * 0.015625), 5);
    expect(values(8, [8, 0, 0, 0]).at(0.5)?.[0]).toBeCloseTo(5, 5);
  });

  it('several takes keep their own ranges', () => {
    const objects = [
      model(1, 'buoy', 'LimbNode'),
      take(100, 'Bob', 1),
      curve(110, [0, 1], [0, 8], 4),
      take(200, 'Drift', 2),
      curve(210, [0, 2], [0, 1], 4),
    ];
    const { clips, facts } = read(file(objects, [[1, 0], ...links(100, 110), ...links(200, 210)], [['TimeMode', 11]]));
    expect(clips.map((clip) => [clip.name, Math.max(...clip.tracks[0].times)])).toEqual([
      ['Bob', 1],
      ['Drift', 2],
    ]);
    expect(facts.clipRates).toEqual([
      { framesPerSecond: 24, startSeconds: 0 },
      { framesPerSecond: 24, startSeconds: 0 },
    ]);
  });
});

describe('damage is named', () => {
  it.each([
    ['an old version', file([model(1, 'a', 'LimbNode')], [[1, 0]], [], 6100), 'unsupported-version'],
    [
      'models in a circle',
      file(
        [model(1, 'a', 'LimbNode'), model(2, 'b', 'LimbNode')],
        [
          [1, 2],
          [2, 1],
        ],
      ),
      'cyclic-nodes',
    ],
    [
      'a polygon past its points',
      file(
        [model(1, 'a', 'Mesh'), mesh(2, SQUARE.replace('0,1,2,-4', '0,1,2,-44'))],
        [
          [1, 0],
          [2, 1],
        ],
      ),
      'bad-index',
    ],
    ['text that breaks off', file([model(1, 'a', 'LimbNode')], [[1, 0]]).slice(0, 200), 'truncated'],
    ['a brace too many', `${file([], [])}}`, 'bad-text'],
    ['no objects', 'FBXHeaderExtension: {\n  FBXVersion: 7400\n}\n', 'no-objects'],
  ])('%s', (_case, text, code) => {
    const problem = refusalOf(() => read(text));
    expect(problem.code).toBe(code);
    expect(problem.place).toMatch(/^quay\.fbx/);
  });
});
