import { readFileSync } from 'node:fs';
import { Quaternion, type Mesh } from 'three';
import { expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { houseEntry } from '@/core/house/house-set';
import { sampleHouse } from '@/core/house/house-motion';
import { NO_ROOT_TRAVEL, type Corrective } from '@/core/motion/carry-options';
import { readCarryCharacter, writeCarried } from '@/pipeline/carry';
import { readSource, type SourceReading } from '@/pipeline/read-files';
import { loadWithThree, playAt } from '../helpers/three-oracle';

const MORPHS = [
  ['elbow fold', 0.01],
  ['knee fold', 0.02],
] as const;

/** The lamplighter with two morph targets that lift it a little: enough to be named and weighed. */
async function withMorphs(): Promise<SourceReading> {
  const file = 'lamplighter.glb';
  const reading = await readSource({ path: file, bytes: new Uint8Array(readFileSync(`demo/files/${file}`)) }, []);
  const { document } = reading;
  const buffer = document.getRoot().listBuffers()[0];
  for (const mesh of document.getRoot().listMeshes()) {
    for (const primitive of mesh.listPrimitives()) {
      const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
      for (const [name, rise] of MORPHS) {
        const moved = new Float32Array(count * 3).map((_, at) => (at % 3 === 1 ? rise : 0));
        const accessor = document.createAccessor().setType('VEC3').setArray(moved).setBuffer(buffer);
        primitive.addTarget(document.createPrimitiveTarget(name).setAttribute('POSITION', accessor));
      }
    }
    mesh.setExtras({ targetNames: MORPHS.map(([name]) => name) }).setWeights([0, 0]);
  }
  return reading;
}

const corrective = (change: Partial<Corrective>): Corrective => ({
  id: 'c',
  role: 'leftLowerArm',
  about: 'hinge',
  fromDeg: 20,
  toDeg: 120,
  morph: 'elbow fold',
  weight: 0.8,
  isOn: true,
  ...change,
});

async function written(correctives: Corrective[]) {
  const reading = await withMorphs();
  const character = readCarryCharacter(reading, QUAY, 'lamplighter.glb');
  const motion = sampleHouse(houseEntry('arm-range').make(null), QUAY, 20);
  const carrying = { ...character.carrying, correctives };
  const { glb } = await writeCarried(motion, { ...character, carrying }, NO_ROOT_TRAVEL);
  const loaded = await loadWithThree(glb);
  const boneOf = (role: string) => character.target.rig.bones[character.target.roleBones.get(role) as number].name;
  return { loaded, seconds: (motion.frameCount - 1) / 20, boneOf };
}

function weightOf(scene: { traverse: (visit: (object: object) => void) => void }, name: string): number {
  let weight = NaN;
  scene.traverse((object) => {
    const { morphTargetDictionary, morphTargetInfluences } = object as Mesh;
    if (morphTargetDictionary && morphTargetInfluences) weight = morphTargetInfluences[morphTargetDictionary[name]];
  });
  return weight;
}

it('follow the bend of the joint as an independent loader sees both', async () => {
  const { loaded, seconds, boneOf } = await written([corrective({})]);
  const bend = (): number => {
    const [upper, lower] = ['leftUpperArm', 'leftLowerArm'].map((role) => {
      const object = loaded.scene.getObjectByName(boneOf(role));
      return object?.getWorldQuaternion(new Quaternion()) ?? new Quaternion();
    });
    return (upper.angleTo(lower) * 180) / Math.PI;
  };
  playAt(loaded, 0, 0);
  const weights: number[] = [];
  let worst = 0;
  for (let at = 0; at <= 60; at++) {
    playAt(loaded, 0, (seconds * at) / 60);
    const weight = weightOf(loaded.scene, 'elbow fold');
    weights.push(weight);
    // The whole turn of the elbow is its bend while the forearm is not rolled: in the first movements.
    if (at < 30) worst = Math.max(worst, Math.abs(weight - 0.8 * Math.max(0, Math.min(1, (bend() - 20) / 100))));
  }
  expect(Math.max(...weights)).toBeCloseTo(0.8, 3);
  expect(Math.min(...weights)).toBe(0);
  expect(worst).toBeLessThan(0.08);
  expect(weightOf(loaded.scene, 'knee fold')).toBe(0);
});

it('add up on one morph, never over the whole, and what is off does nothing', async () => {
  const { loaded, seconds } = await written([
    corrective({ id: 'a' }),
    corrective({ id: 'b', weight: 0.7 }),
    corrective({ id: 'c', morph: 'knee fold', isOn: false }),
  ]);
  const [folds, knees] = [[] as number[], [] as number[]];
  for (let at = 0; at <= 60; at++) {
    playAt(loaded, 0, (seconds * at) / 60);
    folds.push(weightOf(loaded.scene, 'elbow fold'));
    knees.push(weightOf(loaded.scene, 'knee fold'));
  }
  expect(Math.max(...folds)).toBe(1);
  expect(Math.max(...knees)).toBe(0);
});

it('writes no morph track where nothing moves one', async () => {
  const { loaded } = await written([]);
  expect(loaded.animations[0].tracks.filter(({ name }) => name.endsWith('morphTargetInfluences'))).toEqual([]);
});
