import { Vector3, type Bone } from 'three';
import { beforeAll, describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { applyAction } from '@/core/fit/actions/fit-actions';
import { initialFit } from '@/core/fit/fit';
import type { HandoffOptions } from '@/core/fit/handoff-options';
import { houseEntry } from '@/core/house/house-set';
import { UNTOUCHED } from '@/core/drill/make-motion';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import { planHandoff } from '@/core/plan/handoff-plan';
import type { EngineProfile } from '@/core/profile/profile';
import { EBB } from '@/core/profile/shipped';
import { writeHandoff } from '@/document/write-handoff';
import { createNodeIO } from '@/formats/gltf/node-io';
import { addedBy } from '@/pipeline/added-bones';
import { runFirstPass } from '@/pipeline/match';
import { writePackMotions } from '@/pipeline/pack-motions';
import { readGlb } from '@/pipeline/read-files';
import { readCast } from '../helpers/cast-files';
import { pierProfile } from '../helpers/shipped-pier';
import { loadWithThree, playAt, type Loaded } from '../helpers/three-oracle';

let pier: EngineProfile;
beforeAll(async () => {
  pier = await pierProfile();
});

/** A character handed off, and the walk of its pack. */
async function packed(name: string, profile: EngineProfile, change: Partial<HandoffOptions>) {
  const { glb: canonical } = await readCast(name);
  const { rig, document } = await readGlb(canonical, name);
  const first = runFirstPass(rig, QUAY);
  const found = initialFit(first.match, QUAY);
  const aligned = applyAction(found, { kind: 'align-posture' }, { rig, definition: QUAY, ...first });
  const fit = aligned.ok ? aligned.state : found;
  const options = { ...fit.handoff, ...change };
  const plan = planHandoff({ rig, fit, definition: QUAY, profile, options, ...first });
  if ('problem' in plan.skeleton) throw new Error(plan.skeleton.problem.message);
  writeHandoff(document, rig, plan.skeleton.plan, plan.names, addedBy(plan));
  const handedOff = await createNodeIO().writeBinary(document);
  const walk = { entry: 'walk', settings: houseEntry('walk').settings };
  const recipe = {
    ...UNTOUCHED,
    from: { kind: 'house', ...walk },
    definition: QUAY,
    mostFrames: 600,
    others: {},
  } as const;
  const motion = { key: 'house-walk', name: 'Walk', recipe, travel: NO_ROOT_TRAVEL };
  const [{ bytes }] = await writePackMotions([motion], plan, canonical, handedOff);
  const nameOf = (role: string): string => plan.names.names[fit.assignments[role].boneIndex];
  return { character: await loadWithThree(handedOff), walk: await loadWithThree(bytes), nameOf };
}

const placeOf = ({ scene }: Loaded, name: string): Vector3 =>
  scene.getObjectByName(name)?.getWorldPosition(new Vector3()) ?? new Vector3(NaN, 0, 0);

describe.each(['lamplighter.glb', 'eel-seller.glb'])('the walk in a pack of %s', (name) => {
  it.each([
    ['with its joints turned to the axes of the profile', () => [EBB, { reorients: true }] as const],
    ['on a shipped skeleton', () => [pier, { conform: { lengths: 'own' } }] as const],
  ])('%s rests as the character does, and goes the same way', async (_, made) => {
    const [profile, change] = made();
    const plain = await packed(name, { ...profile, skeleton: null }, {});
    const { character, walk, nameOf } = await packed(name, profile, change);
    let bones = 0;
    walk.scene.traverse((node) => {
      const own = character.scene.getObjectByName(node.name) as Bone | undefined;
      if (!own?.isBone) return;
      bones++;
      expect(own.parent?.name).toBe(node.parent?.name);
      expect(node.position.distanceTo(own.position)).toBeLessThan(1e-5);
      expect(node.quaternion.angleTo(own.quaternion)).toBeLessThan(1e-3);
    });
    expect(bones).toBeGreaterThan(20);
    for (const seconds of [0, 0.3, 0.77]) {
      playAt(plain.walk, 0, seconds);
      playAt(walk, 0, seconds);
      for (const role of ['hips', 'head', 'leftHand', 'rightFoot'])
        expect(placeOf(walk, nameOf(role)).distanceTo(placeOf(plain.walk, plain.nameOf(role)))).toBeLessThan(2e-3);
    }
  });
});
