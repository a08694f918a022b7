import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { compose, decompose, invertAffine, multiply } from '@/core/math/mat4';
import type { Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import { gltfFacts } from '@/core/rig/source-facts';
import type { Bone, Rig } from '@/core/rig/rig';

/** A skeleton by other hands with its roles labelled by hand, as `../shared/rigs` holds them. */
export interface RigRecord {
  readonly id: string;
  readonly kind: 'humanoid' | 'other';
  readonly up: string;
  readonly facing: string | null;
  readonly bones: readonly { name: string; parent: number; position: Vec3; rotation?: Quat }[];
  readonly roles: Readonly<Record<string, string | readonly string[]>>;
  readonly roleIndices: Readonly<Record<string, readonly number[]>>;
  readonly alsoAccept?: Readonly<Record<string, readonly string[]>>;
  readonly ignoreRoles?: readonly string[];
  /** The names' sides contradict geometry: roles follow geometry, these the names. Either is right where nothing shows it. */
  readonly namedRoles?: Readonly<Record<string, string | readonly string[]>>;
}

/**
 * Bones that each scored role may be. A thumb of one or two bones may be read from the wrist or from the tip, so its
 * segments are left out; where side names contradict geometry either reading is right.
 */
export function acceptedBones(record: RigRecord, origin: readonly number[]): ReadonlyMap<string, readonly number[]> {
  const indexOf = new Map(record.bones.map(({ name }, at) => [name, origin.indexOf(at)]));
  const called = (names: string | readonly string[] | undefined) =>
    [names ?? []].flat().map((name) => indexOf.get(name as string) ?? -1);
  const thumbs = Object.keys(record.roleIndices).filter((role) => role.includes('Thumb')).length;
  return new Map(
    Object.entries(record.roleIndices)
      .filter(([role]) => !record.ignoreRoles?.includes(role) && (thumbs === 6 || !role.includes('Thumb')))
      .map(([role, indices]) => [
        role,
        [
          ...indices.map((at) => origin.indexOf(at)),
          ...called(record.alsoAccept?.[role]),
          ...called(record.namedRoles?.[role]),
        ],
      ]),
  );
}

const FOLDER = path.resolve('../shared/rigs/skeletons');

/** The records of the training part; none where it is not there. */
export const readRecords = (): RigRecord[] =>
  existsSync(FOLDER)
    ? readdirSync(FOLDER)
        .filter((file) => file.endsWith('.json'))
        .map((file) => JSON.parse(readFileSync(path.join(FOLDER, file), 'utf8')) as RigRecord)
    : [];

/** A rig of the record's bones, in its own units and axes, all of them moving vertices. Parents come first. */
export function rigOf(record: RigRecord): { rig: Rig; /** record index per bone. */ origin: readonly number[] } {
  const origin: number[] = [];
  const visit = (parent: number) =>
    record.bones.forEach((bone, at) => {
      if (bone.parent !== parent) return;
      origin.push(at);
      visit(at);
    });
  visit(-1);
  const worlds = record.bones.map(({ position, rotation }) => compose(position, rotation ?? [0, 0, 0, 1], [1, 1, 1]));
  const bones = origin.map((at, index): Bone => {
    const parent = record.bones[at].parent;
    const local = decompose(parent < 0 ? worlds[at] : multiply(invertAffine(worlds[parent]) as number[], worlds[at]));
    return {
      index,
      name: record.bones[at].name,
      isNamed: true,
      nodeIndex: index,
      parent: parent < 0 ? -1 : origin.indexOf(parent),
      rest: { translation: local.translation, rotation: local.rotation, scale: [1, 1, 1] },
      restWorld: worlds[at],
      bindWorld: null,
      isJoint: true,
      skinWeight: 10,
      skinVertexCount: 10,
      skinCentre: null,
    };
  });
  return { rig: plainRig(bones, record.up as Rig['source']['up']), origin };
}

const plainRig = (bones: readonly Bone[], up: Rig['source']['up']): Rig => ({
  source: { ...gltfFacts(), up },
  kind: 'character',
  bones: [...bones],
  extras: [],
  clips: [],
  poses: [],
  statedRoles: {},
  skinCount: 1,
  remarks: [],
  mesh: {
    primitiveCount: 0,
    vertexCount: 0,
    triangleCount: 0,
    materialCount: 0,
    textureCount: 0,
    morphTargetCount: 0,
    maxInfluences: 0,
    bounds: null,
  },
});

/** The same bones where they are, all of them roots. */
export const withoutTree = (rig: Rig): Rig => ({
  ...rig,
  bones: rig.bones.map((bone) => ({ ...bone, parent: -1, rest: { ...decompose(bone.restWorld) } })),
});

/** Names that say nothing. */
export const withoutWords = (rig: Rig): Rig => ({
  ...rig,
  bones: rig.bones.map((bone) => ({ ...bone, name: `node ${bone.index}`, isNamed: false })),
});
