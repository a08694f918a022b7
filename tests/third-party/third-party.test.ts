import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { Loader, LoadingManager, type Object3D } from 'three';
import { BVHLoader } from 'three/addons/loaders/BVHLoader.js';
import { FBXLoader } from 'three/addons/loaders/FBXLoader.js';
import { parseBinary } from 'fbx-parser';
import { beforeAll, describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { RigSchema, type Rig } from '@/core/rig/rig';
import { computeRigShape } from '@/core/rig/rig-shape';
import { childNamed, numbersOf } from '@/formats/fbx/fbx-tree';
import { parseFbx } from '@/formats/fbx/read-fbx';
import { listModels, MODELS, movingBones, ownBones, readModel, type Outcome } from './catalogue';
import { BIPEDS, readBiped, withoutNames } from './bipeds';
import list from './list.json';
import { posesOf } from './motion-poses';

const SLOWEST_MS = 10_000;
const outcomes = new Map<string, Outcome>();

beforeAll(async () => {
  if (!existsSync(MODELS)) throw new Error("Debian's assimp-testmodels is missing: ./install-missing samples");
  for (const file of listModels()) outcomes.set(file, await readModel(file));
}, 120_000);

const rigOf = (file: string): Rig => {
  const result = outcomes.get(file)?.result;
  if (result?.verdict !== 'read') throw new Error(`${file} was not read`);
  return result.rig;
};

describe('third-party files', () => {
  it('are the ones that the list was made from', () => {
    expect([...outcomes.values()].map(({ file, sha256 }) => [file, sha256])).toEqual(
      list.map(({ file, sha256 }) => [file, sha256]),
    );
  });

  it.each(list.filter((entry) => entry.verdict === 'read'))(
    '$file is read as before',
    ({ file, kind, bones, moving, clips, vertices }) => {
      const rig = rigOf(file);
      expect(() => RigSchema.parse(rig)).not.toThrow();
      expect({
        kind: rig.kind,
        bones: ownBones(rig),
        moving: movingBones(rig),
        clips: rig.clips.length,
        vertices: rig.mesh.vertexCount,
      }).toEqual({ kind, bones, moving, clips, vertices });
    },
  );

  it.each(list.filter((entry) => entry.verdict === 'refused'))('$file is refused by name', ({ file, code }) => {
    const result = outcomes.get(file)?.result;
    expect(result).toMatchObject({ verdict: 'refused', code });
    expect(code).not.toBe('unexpected');
    if (result?.verdict === 'refused') expect(result.place).toContain(path.basename(file));
  });

  it('none takes ten seconds', () => {
    for (const { file, milliseconds } of outcomes.values()) expect(milliseconds, file).toBeLessThan(SLOWEST_MS);
  });
});

const bytesOf = (file: string) => new Uint8Array(readFileSync(path.join(MODELS, file)));
const SKINNED_FBX = ['FBX/huesitos.fbx', 'FBX/animation_with_skeleton.fbx'];

/** three's loaders want a page; these need nothing of it but a name. */
function withoutPage<Value>(work: () => Value): Value {
  const globals = globalThis as { window?: unknown };
  const before = globals.window;
  globals.window ??= globalThis;
  try {
    return work();
  } finally {
    globals.window = before;
  }
}

function silentManager(): LoadingManager {
  const manager = new LoadingManager();
  manager.addHandler(/./, Object.assign(new Loader(), { load: () => null }) as unknown as Loader);
  return manager;
}

/**
 * Which bone plays which role in the two-legged skeletons among these files, written by hand from their hierarchies; by
 * hash, bone by its index in the file's node list. Digits of a mitten may serve as any finger, so they are left open.
 */
describe('the matcher on third-party skeletons', () => {
  it.each(BIPEDS)('$file: every role right, none swapped, none too many', async (biped) => {
    const { roles, open } = biped;
    const rig = await readBiped(biped);
    const match = matchBones(rig, QUAY);
    expect(match.creature.isHumanoid).toBe(true);
    const found = Object.fromEntries(
      Object.values(match.assignments)
        .filter((entry) => !(open as readonly number[]).includes(rig.bones[entry.boneIndex].nodeIndex))
        .map((entry) => [entry.role, rig.bones[entry.boneIndex].nodeIndex]),
    );
    expect(found).toEqual(roles);
    // Nothing is sure that a person would doubt: a mitten's digits are what is left open.
    for (const entry of Object.values(match.assignments))
      if (entry.role in roles) expect(entry.state, entry.role).toBe('proposed');
  });

  it.each(BIPEDS.filter(({ file }) => file.endsWith('.bvh')))(
    '$file: the same in the midst of its motion, with its names and nearly so without any',
    async (biped) => {
      const poses = posesOf(biped.file, await readBiped(biped), 12);
      const shareRight = (rigs: readonly Rig[]) => {
        const answers = rigs.flatMap((rig) => {
          const { assignments } = matchBones(rig, QUAY);
          return Object.entries(biped.roles).map(
            ([role, node]) =>
              assignments[role] !== undefined && rig.bones[assignments[role].boneIndex].nodeIndex === node,
          );
        });
        return answers.filter(Boolean).length / answers.length;
      };
      expect(shareRight(poses)).toBe(1);
      expect(shareRight(poses.map(withoutNames))).toBeGreaterThan(0.97);
    },
  );

  it('a bone between hips and thigh is a helper, not dangling', () => {
    const rig = rigOf('BVH/01_01.bvh');
    const spares = matchBones(rig, QUAY).spares.filter((spare) => rig.bones[spare.boneIndex].name.endsWith('HipJoint'));
    expect(spares.map((spare) => spare.kind)).toEqual(['helper', 'helper']);
    expect(spares[0].reason).toBe('it stands between the hips and the left thigh');
  });

  it('what is no biped is not taken for one', () => {
    for (const file of [
      'FBX/huesitos.fbx',
      'FBX/animation_with_skeleton.fbx',
      'FBX/spider.fbx',
      'Collada/anims_with_full_rotations_between_keys.DAE',
      'glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
      'Collada/library_animation_clips.dae',
    ]) {
      expect(matchBones(rigOf(file), QUAY).creature.isHumanoid, file).toBe(false);
    }
  });
});

describe('against independent readers', () => {
  it.each(SKINNED_FBX)("%s: rest worlds agree with three's FBXLoader within 1e-4 of the size", (file) => {
    const rig = rigOf(file);
    const bytes = bytesOf(file);
    const scene = withoutPage(() => new FBXLoader(silentManager()).parse(bytes.buffer as ArrayBuffer, ''));
    scene.updateMatrixWorld(true);
    const theirs = new Map<string, Object3D>();
    // It renames bones; the file's own name is kept aside.
    scene.traverse((object) => theirs.set((object.userData.originalName as string | undefined) ?? object.name, object));
    const size = computeRigShape(rig).size;
    for (const bone of rig.bones) {
      const other = theirs.get(bone.name);
      expect(other, bone.name).toBeDefined();
      const world = other?.matrixWorld.elements ?? [];
      for (const axis of [12, 13, 14])
        expect(Math.abs(world[axis] - bone.restWorld[axis]), bone.name).toBeLessThan(size * 1e-4);
      for (let at = 0; at < 11; at++)
        expect(Math.abs(world[at] - bone.restWorld[at]), `${bone.name} ${at}`).toBeLessThan(
          1e-3 * Math.max(1, Math.abs(world[at])),
        );
    }
  });

  it.each(SKINNED_FBX)('%s: every cluster has the numbers that another parser finds', (file) => {
    const bytes = bytesOf(file);
    const ours =
      parseFbx(bytes, file)
        .roots.find((node) => node.name === 'Objects')
        ?.children.filter((node) => node.values[2] === 'Cluster') ?? [];
    const theirs =
      parseBinary(Buffer.from(bytes))
        .find((node) => node.name === 'Objects')
        ?.nodes.filter((node) => node.props[2] === 'Cluster') ?? [];
    expect(ours.length).toBeGreaterThan(5);
    expect(ours.length).toBe(theirs.length);
    ours.forEach((cluster, at) => {
      for (const name of ['Indexes', 'Weights', 'Transform', 'TransformLink']) {
        expect(Array.from(numbersOf(childNamed(cluster, name)), Number), name).toEqual(
          ((theirs[at].nodes.find((node) => node.name === name)?.props[0] ?? []) as number[]).map(Number),
        );
      }
    });
  });

  it.each(['BVH/01_01.bvh', 'BVH/01_03.bvh', 'BVH/Boxing_Toes.bvh'])(
    "%s: tree, offsets and length agree with three's BVHLoader",
    (file) => {
      const rig = rigOf(file);
      const { skeleton, clip } = new BVHLoader().parse(new TextDecoder().decode(bytesOf(file)));
      const joints = skeleton.bones.filter((bone) => bone.name !== 'ENDSITE');
      expect(
        rig.bones
          .filter((bone) => !bone.name.endsWith(' end'))
          .map((bone) => bone.name)
          .sort(),
      ).toEqual(joints.map((bone) => bone.name).sort());
      expect(rig.bones.length).toBe(skeleton.bones.length);
      for (const joint of joints) {
        const bone = rig.bones.find((candidate) => candidate.name === joint.name);
        joint.position.toArray().forEach((value, axis) => expect(bone?.rest.translation[axis]).toBeCloseTo(value, 6));
      }
      expect(rig.clips[0].durationSeconds).toBeCloseTo(clip.duration, 2);
    },
  );
});
