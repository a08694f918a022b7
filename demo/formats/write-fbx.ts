import { conjugate, multiply as times, type Quat } from '@/core/math/quat';
import type { Mat4 } from '@/core/math/mat4';
import type { Vec3 } from '@/core/math/vec3';
import type { Figure } from '../figure/write-figure';
import {
  digits,
  eulerXyz,
  FRAMES_PER_SECOND,
  writtenClips,
  writtenJoints,
  writtenMesh,
  type WrittenMesh,
  type Writing,
} from './gather';

export const TICKS_PER_SECOND = 46_186_158_000;

export interface FbxWriting extends Writing {
  /** Joint rotations as pre-rotation, so that animated angles start at zero, as some exporters do. */
  readonly usesPreRotation: boolean;
  /** Materials of each mesh; one mesh with all of them otherwise. */
  readonly meshes?: readonly { readonly name: string; readonly materials: readonly string[] }[];
  /** Textures that materials refer to by name; the files themselves are not written. */
  readonly textures?: Readonly<Record<string, string>>;
  readonly author?: string;
}

/** A figure as text FBX 7.4: models, clusters, bind pose, one take per clip. */
export function writeFbx(figure: Figure, writing: FbxWriting): string {
  const joints = writtenJoints(figure, writing);
  const objects: string[] = [];
  const links: string[] = [];
  let nextId = 1000;
  const id = () => nextId++;
  const link = (child: number, parent: number, property?: string) =>
    links.push(property ? `\tC: "OP",${child},${parent}, "${property}"` : `\tC: "OO",${child},${parent}`);
  const jointIds = joints.map(id);
  joints.forEach((joint, at) => {
    const angles = eulerXyz(joint.rotation);
    const rotation = writing.usesPreRotation
      ? [property('RotationActive', 'bool', '', [1]), property('PreRotation', 'Vector3D', 'Vector', angles)]
      : [property('Lcl Rotation', 'Lcl Rotation', '', angles, 'A')];
    objects.push(
      `\tModel: ${jointIds[at]}, "Model::${joint.name}", "LimbNode" {\n\t\tVersion: 232\n\t\tProperties70:  {\n${[property('InheritType', 'enum', '', [1]), property('Lcl Translation', 'Lcl Translation', '', joint.translation, 'A'), ...rotation].join('\n')}\n\t\t}\n\t\tShading: Y\n\t}`,
    );
    link(jointIds[at], joint.parent < 0 ? 0 : jointIds[joint.parent]);
  });
  const materialIds = new Map<string, number>();
  for (const [name, material] of Object.entries(figure.materials)) {
    const at = id();
    materialIds.set(name, at);
    objects.push(
      `\tMaterial: ${at}, "Material::${name}", "" {\n\t\tVersion: 102\n\t\tShadingModel: "phong"\n\t\tProperties70:  {\n${property(
        'DiffuseColor',
        'Color',
        '',
        material.colour.map((value) => value ** (1 / 2.2)),
        'A',
      )}\n\t\t}\n\t}`,
    );
    const file = writing.textures?.[name];
    if (file) {
      const texture = id();
      objects.push(
        `\tTexture: ${texture}, "Texture::${name}", "" {\n\t\tType: "TextureVideoClip"\n\t\tFileName: "textures/${file}"\n\t\tRelativeFilename: "textures/${file}"\n\t}`,
      );
      link(texture, at, 'DiffuseColor');
    }
  }
  const parts = writing.meshes ?? [{ name: `${figure.name} mesh`, materials: Object.keys(figure.materials) }];
  for (const part of parts) {
    const mesh = writtenMesh(figure, writing, (material) => part.materials.includes(material));
    const [modelId, geometryId, skinId] = [id(), id(), id()];
    objects.push(
      geometry(geometryId, part.name, mesh),
      `\tModel: ${modelId}, "Model::${part.name}", "Mesh" {\n\t\tVersion: 232\n\t\tProperties70:  {\n${property('InheritType', 'enum', '', [1])}\n\t\t}\n\t}`,
      `\tDeformer: ${skinId}, "Deformer::", "Skin" {\n\t\tVersion: 101\n\t\tLink_DeformAcuracy: 50\n\t}`,
    );
    link(modelId, 0);
    link(geometryId, modelId);
    for (const material of mesh.materials) link(materialIds.get(material) as number, modelId);
    link(skinId, geometryId);
    for (const [joint, weights] of [...mesh.weights].sort((a, b) => a[0] - b[0])) {
      const cluster = id();
      objects.push(clusterText(cluster, weights, joints[joint].world));
      link(cluster, skinId);
      link(jointIds[joint], cluster);
    }
  }
  writeTakes(figure, writing, joints, jointIds, { objects, link, id });
  return [header(writing), 'Objects:  {', ...objects, '}', '', 'Connections:  {', ...links, '}', ''].join('\n');
}

export const property = (name: string, type: string, label: string, values: readonly number[], flags = ''): string =>
  `\t\t\tP: "${name}", "${type}", "${label}", "${flags}",${values.map(digits).join(',')}`;

export function array(name: string, values: readonly number[], format: (value: number) => string = digits): string {
  const lines: string[] = [];
  for (let at = 0; at < values.length; at += 64)
    lines.push(
      values
        .slice(at, at + 64)
        .map(format)
        .join(','),
    );
  return `\t\t${name}: *${values.length} {\n\t\t\ta: ${lines.join(',\n')}\n\t\t}`;
}

const layer = (kind: string, mapping: string, reference: string, body: string): string =>
  `\t\t${kind}: 0 {\n\t\t\tVersion: 101\n\t\t\tName: ""\n\t\t\tMappingInformationType: "${mapping}"\n\t\t\tReferenceInformationType: "${reference}"\n${body}\n\t\t}`;

function geometry(id: number, name: string, mesh: WrittenMesh): string {
  return [
    `\tGeometry: ${id}, "Geometry::${name}", "Mesh" {`,
    array('Vertices', mesh.positions.flat()),
    array(
      'PolygonVertexIndex',
      mesh.triangles.flatMap(({ corners: [a, b, c] }) => [a, b, -c - 1]),
    ),
    '\t\tGeometryVersion: 124',
    layer('LayerElementNormal', 'ByVertice', 'Direct', array('Normals', mesh.normals.flat())),
    layer(
      'LayerElementUV',
      'ByPolygonVertex',
      'IndexToDirect',
      `${array('UV', mesh.uvs.flat())}\n${array(
        'UVIndex',
        mesh.triangles.flatMap(({ corners }) => corners),
      )}`,
    ),
    layer(
      'LayerElementMaterial',
      'ByPolygon',
      'IndexToDirect',
      array(
        'Materials',
        mesh.triangles.map(({ material }) => material),
      ),
    ),
    '\t}',
  ].join('\n');
}

function clusterText(id: number, weights: readonly (readonly [number, number])[], world: Mat4): string {
  // The mesh stands at the origin, so "Transform" is the inverse of the bone's world.
  return [
    `\tDeformer: ${id}, "SubDeformer::", "Cluster" {`,
    '\t\tVersion: 100',
    '\t\tUserData: "", ""',
    array(
      'Indexes',
      weights.map(([vertex]) => vertex),
    ),
    array(
      'Weights',
      weights.map(([, weight]) => weight),
    ),
    array('Transform', inverse(world)),
    array('TransformLink', [...world]),
    '\t}',
  ].join('\n');
}

/** Inverse of a rigid transform. */
function inverse(m: Mat4): number[] {
  const t: Vec3 = [m[12], m[13], m[14]];
  const row = (axis: number) => -(m[axis * 4] * t[0] + m[axis * 4 + 1] * t[1] + m[axis * 4 + 2] * t[2]);
  return [m[0], m[4], m[8], 0, m[1], m[5], m[9], 0, m[2], m[6], m[10], 0, row(0), row(1), row(2), 1];
}

interface Sink {
  readonly objects: string[];
  readonly link: (child: number, parent: number, property?: string) => void;
  readonly id: () => number;
}

function writeTakes(
  figure: Figure,
  writing: FbxWriting,
  joints: ReturnType<typeof writtenJoints>,
  jointIds: readonly number[],
  { objects, link, id }: Sink,
): void {
  for (const clip of writtenClips(figure, joints, writing)) {
    const [stack, layerId] = [id(), id()];
    const stop = Math.round(((clip.frameCount - 1) / FRAMES_PER_SECOND) * TICKS_PER_SECOND);
    objects.push(
      `\tAnimationStack: ${stack}, "AnimStack::${clip.name}", "" {\n\t\tProperties70:  {\n\t\t\tP: "LocalStart", "KTime", "Time", "",0\n\t\t\tP: "LocalStop", "KTime", "Time", "",${stop}\n\t\t}\n\t}`,
      `\tAnimationLayer: ${layerId}, "AnimLayer::Base", "" {\n\t}`,
    );
    link(layerId, stack);
    for (const [joint, rotations] of clip.rotations) {
      const base: Quat = writing.usesPreRotation ? joints[joint].rotation : [0, 0, 0, 1];
      const angles = unwrapped(rotations.map((rotation) => eulerXyz(times(conjugate(base), rotation))));
      const node = id();
      objects.push(
        `\tAnimationCurveNode: ${node}, "AnimCurveNode::R", "" {\n\t\tProperties70:  {\n${['d|X', 'd|Y', 'd|Z'].map((name, axis) => property(name, 'Number', '', [angles[0][axis]], 'A')).join('\n')}\n\t\t}\n\t}`,
      );
      link(node, layerId);
      link(node, jointIds[joint], 'Lcl Rotation');
      ['d|X', 'd|Y', 'd|Z'].forEach((name, axis) => {
        const curve = id();
        objects.push(
          [
            `\tAnimationCurve: ${curve}, "AnimCurve::", "" {`,
            '\t\tDefault: 0',
            '\t\tKeyVer: 4009',
            array(
              'KeyTime',
              angles.map((_, frame) => Math.round((frame / FRAMES_PER_SECOND) * TICKS_PER_SECOND)),
              String,
            ),
            array(
              'KeyValueFloat',
              angles.map((angle) => angle[axis]),
            ),
            array('KeyAttrFlags', [4]),
            array('KeyAttrDataFloat', [0, 0, 0, 0]),
            array('KeyAttrRefCount', [angles.length]),
            '\t}',
          ].join('\n'),
        );
        link(curve, node, name);
      });
    }
  }
}

/** Angles without jumps of a full turn. */
export function unwrapped(angles: readonly Vec3[]): Vec3[] {
  const out: Vec3[] = [];
  for (const angle of angles) {
    const before = out[out.length - 1] ?? angle;
    out.push(angle.map((value, axis) => value - 360 * Math.round((value - before[axis]) / 360)) as unknown as Vec3);
  }
  return out;
}

export function header({ up, unitsPerMetre, author }: Pick<FbxWriting, 'up' | 'unitsPerMetre' | 'author'>): string {
  const axes =
    up === 'Z'
      ? [
          ['UpAxis', 2],
          ['UpAxisSign', 1],
          ['FrontAxis', 1],
          ['FrontAxisSign', -1],
          ['CoordAxis', 0],
          ['CoordAxisSign', 1],
        ]
      : [
          ['UpAxis', 1],
          ['UpAxisSign', 1],
          ['FrontAxis', 2],
          ['FrontAxisSign', 1],
          ['CoordAxis', 0],
          ['CoordAxisSign', 1],
        ];
  return [
    '; FBX 7.4.0 project file',
    '; made by the Yarvo demo cast',
    '',
    'FBXHeaderExtension:  {',
    '\tFBXHeaderVersion: 1003',
    '\tFBXVersion: 7400',
    '\tCreator: "Yarvo demo cast"',
    `\tSceneInfo: "SceneInfo::GlobalInfo", "UserData" {\n\t\tMetaData:  {\n\t\t\tVersion: 100\n\t\t\tTitle: "Low Tide Lanterns"\n\t\t\tAuthor: "${author ?? 'Gannet & Twine'}"\n\t\t\tComment: ""\n\t\t}\n\t}`,
    '}',
    'GlobalSettings:  {',
    '\tVersion: 1000',
    '\tProperties70:  {',
    ...axes.map(([name, value]) => `\t\tP: "${name}", "int", "Integer", "",${value}`),
    `\t\tP: "UnitScaleFactor", "double", "Number", "",${digits(100 / unitsPerMetre)}`,
    '\t\tP: "TimeMode", "enum", "", "",6',
    '\t}',
    '}',
    '',
  ].join('\n');
}
