import { AnimationMixer, Matrix4, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { NO_DECISIONS, type TreeRepair } from '@/core/intake/decisions';
import type { Rig } from '@/core/rig/rig';
import { interpret } from '@/pipeline/read';
import { CAST } from '../../demo/cast/cast';
import { makeHandoff } from '../helpers/handoff-maker';
import { loadWithThree, skinnedVertices, type Loaded } from '../helpers/three-oracle';

const read = async (tree: TreeRepair[]) =>
  interpret({
    files: [{ path: 'lamplighter.glb', bytes: await CAST['lamplighter.glb'].make() }],
    main: 'lamplighter.glb',
    decisions: { ...NO_DECISIONS, tree },
  });
const nodeOf = (rig: Rig, name: string) => rig.bones.find((bone) => bone.name === name)!.nodeIndex;
const parentOf = (rig: Rig, name: string) => rig.bones[rig.bones.find((bone) => bone.name === name)!.parent]?.name;

const largest = (a: readonly Vector3[], b: readonly Vector3[]): number =>
  a.reduce((most, point, at) => Math.max(most, point.distanceTo(b[at])), a.length === b.length ? 0 : Infinity);
const placeOf = (loaded: Loaded, rig: Rig, name: string) =>
  loaded.nodes.get(nodeOf(rig, name))!.getWorldPosition(new Vector3());

/** Plays a clip to a time in the independent reader. */
function play(loaded: Loaded, clip: number, seconds: number): void {
  const mixer = new AnimationMixer(loaded.scene);
  mixer.clipAction(loaded.animations[clip]).play();
  mixer.setTime(seconds);
  loaded.scene.updateMatrixWorld(true);
}

const names = async () => {
  const { rig } = await read([]);
  const roles = rig.bones.map((bone) => bone.name);
  const find = (pattern: RegExp) => roles.find((name) => pattern.test(name))!;
  return { rig, hand: find(/hand.*l|l.*hand/i), chest: rig.bones[rig.bones[nodeIndexOf(rig, /head$/i)].parent].name };
};
const nodeIndexOf = (rig: Rig, pattern: RegExp) => rig.bones.findIndex((bone) => pattern.test(bone.name));

describe('repair of the tree', () => {
  it('hangs a bone on another one and moves neither the mesh nor any joint, at rest and in every clip', async () => {
    const before = await read([]);
    const { hand, chest } = await names();
    const after = await read([
      {
        kind: 'reparent',
        node: nodeOf(before.rig, hand),
        parent: nodeOf(before.rig, chest),
        name: 'it',
        parentName: 'that',
      },
    ]);
    expect(parentOf(before.rig, hand)).not.toBe(chest);
    expect(parentOf(after.rig, hand)).toBe(chest);
    const [a, b] = [await loadWithThree(before.glb), await loadWithThree(after.glb)];
    expect(largest(skinnedVertices(a), skinnedVertices(b))).toBeLessThan(1e-5);
    expect(before.rig.clips.length).toBeGreaterThan(0);
    for (const [clip, { durationSeconds }] of before.rig.clips.entries()) {
      for (const share of [0, 0.5, 1]) {
        play(a, clip, durationSeconds * share * 0.999);
        play(b, clip, durationSeconds * share * 0.999);
        for (const bone of before.rig.bones)
          expect(
            placeOf(a, before.rig, bone.name).distanceTo(placeOf(b, after.rig, bone.name)),
            `${bone.name} in ${clip} at ${share}`,
          ).toBeLessThan(2e-3);
      }
    }
  });

  it('merges a bone with its weights into its parent: the mesh stays in rest, the weights move up, nothing is lost', async () => {
    const before = await read([]);
    const { hand } = await names();
    const parent = parentOf(before.rig, hand)!;
    const weightOf = (rig: Rig, name: string) => rig.bones.find((bone) => bone.name === name)!.skinWeight;
    const after = await read([{ kind: 'collapse', node: nodeOf(before.rig, hand), name: 'it' }]);
    expect(after.rig.bones).toHaveLength(before.rig.bones.length - 1);
    expect(after.rig.bones.some((bone) => bone.name === hand)).toBe(false);
    expect(weightOf(after.rig, parent)).toBeCloseTo(weightOf(before.rig, hand) + weightOf(before.rig, parent), 2);
    const [a, b] = [await loadWithThree(before.glb), await loadWithThree(after.glb)];
    expect(largest(skinnedVertices(a), skinnedVertices(b))).toBeLessThan(1e-5);
    for (const bone of after.rig.bones)
      expect(placeOf(a, before.rig, bone.name).distanceTo(placeOf(b, after.rig, bone.name)), bone.name).toBeLessThan(
        1e-5,
      );
  });

  it('inserts a joint on the way to a bone, and nothing else moves', async () => {
    const before = await read([]);
    const { hand } = await names();
    const parent = parentOf(before.rig, hand)!;
    const after = await read([{ kind: 'insert', node: nodeOf(before.rig, hand), share: 0.25, name: 'lt_wrist_extra' }]);
    expect(parentOf(after.rig, hand)).toBe('lt_wrist_extra');
    expect(parentOf(after.rig, 'lt_wrist_extra')).toBe(parent);
    const [a, b] = [await loadWithThree(before.glb), await loadWithThree(after.glb)];
    expect(largest(skinnedVertices(a), skinnedVertices(b))).toBeLessThan(1e-5);
    const wanted = placeOf(a, before.rig, parent).lerp(placeOf(a, before.rig, hand), 0.25);
    expect(placeOf(b, after.rig, 'lt_wrist_extra').distanceTo(wanted)).toBeLessThan(1e-5);
    const last = before.rig.clips[0];
    play(a, 0, last.durationSeconds / 3);
    play(b, 0, last.durationSeconds / 3);
    for (const bone of before.rig.bones)
      expect(placeOf(a, before.rig, bone.name).distanceTo(placeOf(b, after.rig, bone.name)), bone.name).toBeLessThan(
        2e-3,
      );
  });

  it('reaches the handed-off file: every repair in it, the mesh of the original where it was', async () => {
    const before = await read([]);
    const { hand, chest } = await names();
    const finger = before.rig.bones.find((bone) => parentOf(before.rig, bone.name) === hand)!.name;
    const tip = before.rig.bones.find((bone) => parentOf(before.rig, bone.name) === finger)!.name;
    const node = (name: string) => nodeOf(before.rig, name);
    const after = await read([
      { kind: 'collapse', node: node(tip), name: tip },
      { kind: 'insert', node: node(finger), share: 0.5, name: 'lt_palm' },
      { kind: 'reparent', node: node(hand), parent: node(chest), name: hand, parentName: chest },
    ]);
    const { bytes, skeleton, names: written } = await makeHandoff(after.glb, []);
    const similarity = new Matrix4().fromArray([...skeleton.similarity]);
    const original = skinnedVertices(await loadWithThree(before.glb)).map((point) => point.applyMatrix4(similarity));
    const handed = await loadWithThree(bytes);
    expect(largest(original, skinnedVertices(handed))).toBeLessThan(1e-5);
    const nameOf = (name: string) => written.names[after.rig.bones.find((bone) => bone.name === name)!.index];
    const joint = (name: string) =>
      [...handed.nodes.values()].find((object) => object.name === nameOf(name).replace(/[.\s]/g, ''))!;
    expect(joint('lt_palm').parent).toBe(joint(hand));
    expect(joint(hand).parent).toBe(joint(chest));
    expect(joint(finger).parent).toBe(joint('lt_palm'));
    expect(after.rig.bones.some((bone) => bone.name === tip)).toBe(false);
  });

  it('carries out several repairs in their order and names what does not fit', async () => {
    const { rig } = await read([]);
    const { hand } = await names();
    const finger = rig.bones.find((bone) => parentOf(rig, bone.name) === hand)!.name;
    const both = await read([
      { kind: 'collapse', node: nodeOf(rig, hand), name: 'it' },
      { kind: 'insert', node: nodeOf(rig, finger), share: 0.5, name: 'palm' },
    ]);
    expect(parentOf(both.rig, finger)).toBe('palm');
    expect(parentOf(both.rig, 'palm')).toBe(parentOf(rig, hand));
    await expect(
      read([
        { kind: 'reparent', node: nodeOf(rig, hand), parent: nodeOf(rig, finger), name: 'it', parentName: 'that' },
      ]),
    ).rejects.toThrow(/cannot be parented to/);
    await expect(
      read([
        { kind: 'collapse', node: nodeOf(rig, hand), name: 'it' },
        { kind: 'collapse', node: nodeOf(rig, hand), name: 'it' },
      ]),
    ).rejects.toThrow(/took it away/);
    await expect(read([{ kind: 'collapse', node: 99_999, name: 'it' }])).rejects.toThrow(/no node 99999/);
  });

  it('repairs joints that repairs made: hung upon, merged away, another before them, and the mesh stays', async () => {
    const before = await read([]);
    const { hand, chest } = await names();
    const wrist: TreeRepair = {
      kind: 'insert',
      node: nodeOf(before.rig, hand),
      share: 0.5,
      name: 'lt_wrist',
      made: -2,
    };
    const more: TreeRepair[] = [
      { kind: 'insert', node: -2, share: 0.5, name: 'lt_cuff', made: -3 },
      { kind: 'reparent', node: -3, parent: nodeOf(before.rig, chest), name: 'lt_cuff', parentName: chest },
    ];
    const after = await read([wrist, ...more]);
    expect([hand, 'lt_wrist', 'lt_cuff'].map((name) => parentOf(after.rig, name))).toEqual([
      'lt_wrist',
      'lt_cuff',
      chest,
    ]);
    const node = (name: string) => nodeOf(after.rig, name);
    expect([hand, 'lt_wrist', 'lt_cuff'].map((name) => after.origins[node(name)])).toEqual([
      nodeOf(before.rig, hand),
      -2,
      -3,
    ]);
    const [a, b] = [await loadWithThree(before.glb), await loadWithThree(after.glb)];
    expect(largest(skinnedVertices(a), skinnedVertices(b))).toBeLessThan(1e-5);
    const merged = await read([wrist, { kind: 'collapse', node: -2, name: 'lt_wrist' }]);
    expect(merged.rig.bones.map((bone) => [bone.name, parentOf(merged.rig, bone.name)])).toEqual(
      before.rig.bones.map((bone) => [bone.name, parentOf(before.rig, bone.name)]),
    );
    await expect(read(more)).rejects.toThrow(/no earlier repair made/);
    await expect(read([wrist, { ...wrist, name: 'lt_other' }])).rejects.toThrow(/the number -2/);
    await expect(read([wrist, { kind: 'collapse', node: -2, name: 'lt_wrist' }, more[0]])).rejects.toThrow(/took away/);
  });
});
