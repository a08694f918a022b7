import { invertAffine, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import { cross, dot, type Vec3 } from '@/core/math/vec3';
import { gltfFacts, type SourceFacts } from '@/core/rig/source-facts';
import { statedUnit } from '../scene/stated-unit';
import type { PointData } from '../scene/part-builder';
import { mirrorDraft } from '../scene/mirror-draft';
import type { DraftMesh, DraftSkin, SceneDraft } from '../scene/scene-draft';
import { TextureShelf } from '../scene/texture-shelf';
import type { Companions } from '../files/companions';
import { readAsciiFbx } from './read-ascii';
import { isBinaryFbx, readBinaryFbx } from './read-binary';
import { childNamed, fbxError, numbersOf, textOf, type FbxFile } from './fbx-tree';
import { readClips } from './clips';
import { readParts, readPoints } from './geometry';
import { readMaterial } from './materials';
import { readModels, type FbxSkeleton } from './models';
import { readObjects, type FbxObject, type FbxObjects } from './objects';
import { readSkin, type FbxSkin } from './skins';
import { geometricMatrix } from './transform';

/** Versions read; earlier ones keep their objects in another layout. */
const [OLDEST, NEWEST] = [7000, 7999];

/**
 * An FBX 7 file, binary or text, as a scene: names exactly the file's, no nodes of our own, every influence.
 * @throws {YarvoError}
 */
export function readFbx(bytes: Uint8Array, place: string, companions: Companions): SceneDraft {
  const file = parseFbx(bytes, place);
  if (file.version < OLDEST || file.version > NEWEST) {
    throw fbxError(
      'unsupported-version',
      `This is FBX version ${(file.version / 1000).toFixed(1)}; versions 7.0 to 7.7 are read.`,
      place,
      'Export it again as FBX 7.4 or glTF 2.0.',
    );
  }
  const objects = readObjects(file, place);
  const skeleton = readModels(objects);
  const shelf = new TextureShelf(companions);
  const materialObjects = objects.all.filter((object) => object.kind === 'Material');
  const materials = materialObjects.map((object) => readMaterial(objects, object, shelf));
  const materialIndex = new Map(materialObjects.map((object, index) => [object, index]));
  const remarks = [...skeleton.remarks];
  const meshes = skeleton.models.flatMap((model) => readMeshes(objects, skeleton, model, materialIndex, remarks));
  const clips = readClips(objects, skeleton);
  remarks.push(...clips.flatMap((clip) => clip.remarks));
  const facts = readFacts(file, objects, remarks, clips, shelf);
  const draft: SceneDraft = { facts, nodes: skeleton.nodes, meshes, materials, textures: shelf.textures, clips };
  return facts.handedness === 'left' ? mirrorDraft(draft) : draft;
}

/** The record tree of either encoding. @throws {YarvoError} */
export function parseFbx(bytes: Uint8Array, place: string): FbxFile {
  if (isBinaryFbx(bytes)) return readBinaryFbx(bytes, place);
  return readAsciiFbx(new TextDecoder('utf-8').decode(bytes), place);
}

function readMeshes(
  objects: FbxObjects,
  skeleton: FbxSkeleton,
  model: FbxObject,
  materialIndex: ReadonlyMap<FbxObject, number>,
  remarks: string[],
): DraftMesh[] {
  const materials = objects.childrenOf(model, 'Material').map(({ object }) => materialIndex.get(object) ?? -1);
  const node = skeleton.indexOf.get(model) as number;
  return objects
    .childrenOf(model, 'Geometry')
    .filter(({ object }) => object.type === 'Mesh')
    .map(({ object: geometry }) => {
      const pointCount = Math.floor(numbersOf(childNamed(geometry.node, 'Vertices')).length / 3);
      const skin = readSkin(objects, geometry, pointCount);
      if (skin) remarks.push(...skin.remarks);
      const geometric = geometricMatrix(model.properties);
      const matrix = skin ? multiply(skin.meshWorld ?? skeleton.worlds[node], geometric) : geometric;
      const { names, morphs } = readMorphs(objects, geometry, pointCount, matrix);
      const data: PointData = {
        positions: readPoints(geometry.node, matrix),
        joints: null,
        weights: null,
        perVertex: 4,
        morphs,
        ...skin?.influences,
      };
      return {
        name: geometry.name || model.name,
        node,
        parts: readParts(geometry.node, data, matrix, materials),
        skin: skin && draftSkin(skin, skeleton),
        morphNames: names,
      };
    });
}

function draftSkin(skin: FbxSkin, skeleton: FbxSkeleton): DraftSkin {
  const inverseBinds = new Float32Array(skin.joints.length * 16);
  skin.bindWorlds.forEach((world, at) => inverseBinds.set(invertAffine(world) ?? IDENTITY, at * 16));
  return { joints: skin.joints.map((joint) => skeleton.indexOf.get(joint) as number), inverseBinds };
}

/** Morph targets: a channel's shape moves some of the points. */
function readMorphs(
  objects: FbxObjects,
  geometry: FbxObject,
  pointCount: number,
  matrix: Mat4,
): { names: string[]; morphs: Float32Array[] } {
  const names: string[] = [];
  const morphs: Float32Array[] = [];
  for (const { object: deformer } of objects.childrenOf(geometry, 'Deformer')) {
    if (deformer.type !== 'BlendShape') continue;
    for (const { object: channel } of objects.childrenOf(deformer, 'Deformer')) {
      const shape = objects.childrenOf(channel, 'Geometry').find(({ object }) => object.type === 'Shape')?.object;
      if (!shape) continue;
      const indexes = numbersOf(childNamed(shape.node, 'Indexes'));
      const moves = numbersOf(childNamed(shape.node, 'Vertices'));
      const deltas = new Float32Array(pointCount * 3);
      for (let at = 0; at < indexes.length; at++) {
        if (!(indexes[at] >= 0 && indexes[at] < pointCount) || at * 3 + 2 >= moves.length)
          throw fbxError(
            'bad-index',
            `The shape "${shape.name}" names point ${indexes[at]} of ${pointCount}.`,
            shape.node.place,
          );
        const move: Vec3 = [moves[at * 3], moves[at * 3 + 1], moves[at * 3 + 2]];
        for (let row = 0; row < 3; row++)
          deltas[indexes[at] * 3 + row] = matrix[row] * move[0] + matrix[4 + row] * move[1] + matrix[8 + row] * move[2];
      }
      names.push(channel.name || shape.name);
      morphs.push(deltas);
    }
  }
  return { names, morphs };
}

const AXIS_LETTERS = ['X', 'Y', 'Z'];

function readFacts(
  file: FbxFile,
  objects: FbxObjects,
  remarks: readonly string[],
  clips: readonly { framesPerSecond: number; startSeconds: number }[],
  shelf: TextureShelf,
): SourceFacts {
  const { settings } = objects;
  const axis = (name: string, fallback: number): Vec3 => {
    const index = settings.number(`${name}Axis`, fallback);
    const sign = settings.number(`${name}AxisSign`, 1) < 0 ? -1 : 1;
    return [0, 1, 2].map((at) => (at === index ? sign : 0)) as unknown as Vec3;
  };
  const [up, front, coord] = [axis('Up', 1), axis('Front', 2), axis('Coord', 0)];
  const upIndex = up.findIndex((value) => value !== 0);
  const unit = statedUnit(settings.number('UnitScaleFactor', NaN) / 100);
  const header = file.roots.find((node) => node.name === 'FBXHeaderExtension');
  const creator =
    textOf(childNamed(header, 'Creator')?.values[0]) ||
    textOf(file.roots.find((node) => node.name === 'Creator')?.values[0]);
  const meta = childNamed(childNamed(header, 'SceneInfo'), 'MetaData');
  const said = (name: string) => textOf(childNamed(meta, name)?.values[0]).slice(0, 500);
  return gltfFacts({
    format: 'fbx',
    version: `${(file.version / 1000).toFixed(1)} ${file.encoding}`,
    generator: creator.slice(0, 500),
    unitMetres: unit.unitMetres,
    up:
      settings.has('UpAxis') && upIndex >= 0
        ? (`${up[upIndex] < 0 ? '-' : '+'}${AXIS_LETTERS[upIndex]}` as SourceFacts['up'])
        : null,
    handedness: dot(cross(coord, up), front) < 0 ? 'left' : 'right',
    provenance: { source: said('Title'), author: said('Author'), licence: '', attribution: said('Comment') },
    textures: shelf.listFacts(),
    clipRates: clips.map(({ framesPerSecond, startSeconds }) => ({ framesPerSecond, startSeconds })),
    remarks: [...unit.remarks, ...remarks].map((remark) => remark.slice(0, 500)).slice(0, 50),
  });
}
