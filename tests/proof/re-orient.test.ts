import { Quaternion, Vector3, type Bone, type Object3D } from 'three';
import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { applyAction } from '@/core/fit/actions/fit-actions';
import { initialFit } from '@/core/fit/fit';
import { axisDeviations } from '@/core/plan/bone-axes';
import { planHandoff } from '@/core/plan/handoff-plan';
import { EBB } from '@/core/profile/shipped';
import { writeHandoff } from '@/document/write-handoff';
import { createNodeIO } from '@/formats/gltf/node-io';
import { runFirstPass } from '@/pipeline/match';
import { addedBy } from '@/pipeline/added-bones';
import { readGlb } from '@/pipeline/read-files';
import { readCast } from '../helpers/cast-files';
import { furthest, loadWithThree, playAt, skinnedVertices, type Loaded } from '../helpers/three-oracle';

/** The same handoff with the joints' own axes, and with those of the profile. */
async function both(name: string) {
  const made = await Promise.all(
    [false, true].map(async (reorients) => {
      const { rig, document } = await readGlb((await readCast(name)).glb, name);
      const first = runFirstPass(rig, QUAY);
      const aligned = applyAction(
        initialFit(first.match, QUAY),
        { kind: 'align-posture' },
        { rig, definition: QUAY, ...first },
      );
      const fit = aligned.ok ? aligned.state : initialFit(first.match, QUAY);
      const handoff = { ...fit.handoff, reorients };
      const plan = planHandoff({ rig, fit: { ...fit, handoff }, definition: QUAY, profile: EBB, ...first });
      if ('problem' in plan.skeleton) throw new Error(plan.skeleton.problem.message);
      const { plan: skeleton } = plan.skeleton;
      writeHandoff(document, rig, skeleton, plan.names, addedBy(plan));
      const off = axisDeviations(plan, skeleton.worlds, EBB.axes ?? { along: '+X', hinge: '+Z', isMirrored: true });
      return { loaded: await loadWithThree(await createNodeIO().writeBinary(document)), off };
    }),
  );
  return { own: made[0], stated: made[1] };
}

const bonesOf = ({ scene }: Loaded): Map<string, Object3D> => {
  const found = new Map<string, Object3D>();
  scene.traverse((object) => (object as Bone).isBone && found.set(object.name, object));
  return found;
};

/** Turns every bone in the world by what its name and a seed say, parents first. */
function pose(loaded: Loaded, rest: ReadonlyMap<string, Quaternion>, seed: number): void {
  for (const [name, object] of bonesOf(loaded)) {
    const code = [...name].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 9973, seed * 131 + 7);
    const axis = new Vector3(Math.sin(code), Math.cos(code * 1.7), Math.sin(code * 2.3)).normalize();
    const turn = new Quaternion().setFromAxisAngle(axis, Math.sin(code * 0.37) * 0.9);
    const world = turn.multiply(rest.get(name) as Quaternion);
    const above = object.parent?.getWorldQuaternion(new Quaternion()).invert() ?? new Quaternion();
    object.quaternion.copy(above.multiply(world));
    object.updateMatrixWorld(true);
  }
}

const worldTurns = (loaded: Loaded): Map<string, Quaternion> =>
  new Map([...bonesOf(loaded)].map(([name, object]) => [name, object.getWorldQuaternion(new Quaternion())]));

describe.each(['eel-seller.glb', 'harbour-diver.glb'])('%s with its joints turned to the axes of Ebb', (name) => {
  it('has these axes, and a mesh that stands where it stood in 20 poses', async () => {
    const { own, stated } = await both(name);
    expect(Math.max(...own.off.map(({ degrees }) => degrees))).toBeGreaterThan(30);
    expect(Math.max(...stated.off.map(({ degrees }) => degrees))).toBeLessThan(0.01);
    const [a, b] = [worldTurns(own.loaded), worldTurns(stated.loaded)];
    expect(furthest(skinnedVertices(own.loaded), skinnedVertices(stated.loaded))).toBeLessThan(1e-5);
    for (let seed = 0; seed < 20; seed++) {
      pose(own.loaded, a, seed);
      pose(stated.loaded, b, seed);
      expect(furthest(skinnedVertices(own.loaded), skinnedVertices(stated.loaded))).toBeLessThan(1e-5);
    }
  });
});

it('plays every clip as before, frame by frame', async () => {
  const { own, stated } = await both('lamplighter.glb');
  expect(own.loaded.animations.length).toBeGreaterThan(0);
  for (const clip of own.loaded.animations.keys())
    for (const seconds of [0, 0.21, 0.5, 0.83]) {
      for (const { loaded } of [own, stated]) playAt(loaded, clip, seconds);
      expect(furthest(skinnedVertices(own.loaded), skinnedVertices(stated.loaded))).toBeLessThan(1e-5);
    }
});

it('gives both sides axes that mirror each other: the same local turn makes mirrored poses', async () => {
  const { stated } = await both('lamplighter.glb');
  const bones = bonesOf(stated.loaded);
  const bend = new Quaternion().setFromAxisAngle(new Vector3(0, 0, 1), 0.6);
  for (const side of ['left', 'right']) bones.get(`quay_forearm_${side}`)?.quaternion.multiply(bend);
  stated.loaded.scene.updateMatrixWorld(true);
  const [left, right] = ['left', 'right'].map((side) =>
    bones.get(`quay_hand_${side}`)?.getWorldPosition(new Vector3()),
  );
  expect(left?.x).toBeCloseTo(-(right?.x ?? 0), 3);
  expect(left?.y).toBeCloseTo(right?.y ?? 0, 3);
  expect(left?.z).toBeCloseTo(right?.z ?? 0, 3);
});
