import { Quaternion, Vector3, type Bone } from 'three';
import { beforeAll, describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { USUAL_OPTIONS } from '@/core/fit/handoff-options';
import { NO_DECISIONS } from '@/core/intake/decisions';
import { planHandoff } from '@/core/plan/handoff-plan';
import type { EngineProfile, ShippedSkeleton } from '@/core/profile/profile';
import type { RepairKind } from '@/core/repairs/repair-kinds';
import { writeHandoff } from '@/document/write-handoff';
import { createNodeIO } from '@/formats/gltf/node-io';
import { addedBy } from '@/pipeline/added-bones';
import { checkReading, repairFile } from '@/pipeline/check';
import { readGlb } from '@/pipeline/read-files';
import { readCast } from '../helpers/cast-files';
import { pierProfile } from '../helpers/shipped-pier';
import { carriedBy, furthest, loadWithThree, playAt, skinnedVertices, type Loaded } from '../helpers/three-oracle';

let shipped: ShippedSkeleton['bones'];
let profile: EngineProfile;
beforeAll(async () => {
  const made = await pierProfile();
  profile = made;
  shipped = made.skeleton.bones;
});

const written = async (name: string, kinds: readonly RepairKind[]) => {
  const { glb } = await readCast(name);
  const main = { path: name, bytes: glb };
  return repairFile({ main, files: [main] }, { definition: QUAY, profile }, new Set(kinds));
};

/** Degrees and metres by which a loaded figure differs from the shipped skeleton, node by node; its names and parents must be the same. */
function compared({ scene }: Loaded): { readonly degrees: number; readonly metres: number } {
  let [degrees, metres] = [0, 0];
  for (const { name, parent, translation, rotation } of shipped) {
    const node = scene.getObjectByName(name);
    if (!node) throw new Error(`${name} is not there`);
    expect((node as Bone).isBone).toBe(true);
    const above = node.parent?.name ?? '';
    if (parent === null) expect(shipped.map((bone) => bone.name)).not.toContain(above);
    else expect(above).toBe(parent);
    degrees = Math.max(degrees, (node.quaternion.angleTo(new Quaternion(...rotation)) * 180) / Math.PI);
    metres = Math.max(metres, node.position.distanceTo(new Vector3(...translation)));
  }
  return { degrees, metres };
}

describe.each(['eel-seller.glb', 'harbour-diver.glb', 'customs-clerk.vrm'])(
  '%s on a skeleton that the studio ships',
  (name) => {
    it('has its names, tree and axes node by node, and its own lengths', async () => {
      const { glb, findings, repairs } = await written(name, ['align-posture', 'conform']);
      expect(repairs).toContain('conform');
      const { degrees, metres } = compared(await loadWithThree(glb));
      expect(degrees).toBeLessThan(0.01);
      expect(metres).toBeGreaterThan(0.01);
      const left = findings.filter(({ check }) => check === 'shipped-skeleton').map(({ key }) => key.split(/[/ ]/)[1]);
      expect(left.filter((aspect) => !['place', 'extra'].includes(aspect))).toEqual([]);
    });
  },
);

it('has its lengths as well where they are taken', async () => {
  const { glb, findings } = await written('net-mender.glb', ['align-posture', 'take-lengths', 'conform']);
  const { degrees, metres } = compared(await loadWithThree(glb));
  expect(degrees).toBeLessThan(0.01);
  expect(metres).toBeLessThan(1e-5);
  expect(findings.filter(({ key }) => key.startsWith('shipped-skeleton/place'))).toEqual([]);
});

/** The same file in the same pose, on its own skeleton and on the shipped one. */
async function both(name: string, lengths: 'own' | 'skeleton' = 'own') {
  const { glb } = await readCast(name);
  const made = await Promise.all(
    [false, true].map(async (isConformed) => {
      const { rig, document } = await readGlb(glb, name);
      const { plan } = checkReading(
        { rig, document } as Awaited<ReturnType<typeof readGlb>>,
        { definition: QUAY, profile },
        { intake: NO_DECISIONS, handoff: options(lengths), aligns: true, straightens: false },
      );
      const posed = {
        ...plan.fit,
        posture: { ...plan.fit.posture, ...plan.pose },
        handoff: options(isConformed ? lengths : null),
      };
      const again = planHandoff({ ...plan, options: posed.handoff, fit: posed });
      if ('problem' in again.skeleton) throw new Error(again.skeleton.problem.message);
      writeHandoff(document, rig, again.skeleton.plan, again.names, addedBy(again));
      return loadWithThree(await createNodeIO().writeBinary(document));
    }),
  );
  return { own: made[0], onShipped: made[1] };
}
const options = (lengths: 'own' | 'skeleton' | null) => ({ ...USUAL_OPTIONS, conform: lengths && { lengths } });

/** The least share of a vertex that a bone carries alone. */
const ALONE = 0.999;

describe('the mesh of a character that is written onto a shipped skeleton', () => {
  it.each(['lamplighter.glb', 'eel-seller.glb'])('%s stands and plays as on its own', async (name) => {
    const { own, onShipped } = await both(name);
    expect(furthest(skinnedVertices(own), skinnedVertices(onShipped))).toBeLessThan(1e-5);
    for (const clip of own.animations.keys())
      for (const seconds of [0, 0.21, 0.5, 0.83]) {
        for (const loaded of [own, onShipped]) playAt(loaded, clip, seconds);
        expect(furthest(skinnedVertices(own), skinnedVertices(onShipped))).toBeLessThan(1e-5);
      }
  });

  it('follows the lengths that are taken: along the segment as much longer, across it as it was', async () => {
    const { own, onShipped } = await both('lamplighter.glb', 'skeleton');
    const ends = (loaded: Loaded, names: readonly string[]) =>
      names.map((name) => loaded.scene.getObjectByName(name)?.getWorldPosition(new Vector3()) as Vector3);
    const [elbow, wrist] = ends(own, ['quay_forearm_left', 'quay_hand_left']);
    const [newElbow, newWrist] = ends(onShipped, ['pier_forearm_left', 'pier_hand_left']);
    const d = wrist.clone().sub(elbow).normalize();
    const longer = newWrist.distanceTo(newElbow) / wrist.distanceTo(elbow);
    expect(longer).toBeCloseTo(1.1, 3);
    const [before, after] = [
      carriedBy(own, 'quay_forearm_left', ALONE),
      carriedBy(onShipped, 'pier_forearm_left', ALONE),
    ];
    expect(before.length).toBeGreaterThan(10);
    before.forEach((point, at) => {
      const [old, now] = [point.clone().sub(elbow), after[at].clone().sub(newElbow)];
      expect(now.dot(d)).toBeCloseTo(old.dot(d) * longer, 4);
      const across = (each: Vector3) => each.clone().addScaledVector(d, -each.dot(d));
      expect(across(now).distanceTo(across(old))).toBeLessThan(1e-4);
    });
    // What a hand carries only goes along.
    const [hand, newHand] = [carriedBy(own, 'quay_hand_left', ALONE), carriedBy(onShipped, 'pier_hand_left', ALONE)];
    hand.forEach((point, at) =>
      expect(point.clone().sub(wrist).distanceTo(newHand[at].clone().sub(newWrist))).toBeLessThan(1e-4),
    );
  });
});
