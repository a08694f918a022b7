import { readFileSync } from 'node:fs';
import { Quaternion, SkinnedMesh, Vector3, type Object3D } from 'three';
import { QUAY } from '@/core/definition/quay';
import { carryTo, withSoles } from '@/core/drill/carry-subject';
import { judgeMotion } from '@/core/drill/judge/judge-motion';
import { PoseWatch } from '@/core/drill/judge/pose-watch';
import { houseEntry } from '@/core/house/house-set';
import { sampleHouse } from '@/core/house/house-motion';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import { drillLimitsOf } from '@/core/profile/profile';
import { TIDEWATER } from '@/core/profile/shipped';
import { readDrillCharacter } from '@/pipeline/drill';
import { readSource } from '@/pipeline/read-files';
import { loadWithThree } from '../../tests/helpers/three-oracle';

/**
 * `npx tsx bench/motion/measures.ts`: all measures of a minute of motion against the time that three takes to skin the same
 * frames on one core, in one run; and what is measured after a step of Posture against carrying alone.
 */
const FILE = 'demo/files/lamplighter.glb';
const RUNS = 3;

const quickest = (work: () => void): number => {
  let best = Infinity;
  for (let run = 0; run < RUNS; run++) {
    const start = performance.now();
    work();
    best = Math.min(best, performance.now() - start);
  }
  return best;
};

async function main(): Promise<void> {
  const bytes = new Uint8Array(readFileSync(FILE));
  const character = readDrillCharacter(await readSource({ path: FILE, bytes }, []), QUAY, FILE);
  const walk = houseEntry('walk');
  if (!walk.settings) throw new Error('the walk has settings');
  // Sixteen strides and more of them: a minute at 60 frames a second.
  const rate = 60;
  const minute = sampleHouse(walk.make({ ...walk.settings, cycles: 20 }), QUAY, rate);
  const frames = minute.frameCount;
  const subject = withSoles({ ...character, soles: null }, character.geometry);
  const carry = quickest(() => {
    carryTo(
      minute,
      { ...subject, carrying: { ...subject.carrying, grounding: 'leave' } },
      NO_ROOT_TRAVEL,
    ).carrier.carry(0, frames);
  });
  const limits = drillLimitsOf(TIDEWATER);
  const judge = quickest(() => {
    judgeMotion({ ...character, motion: minute, travel: NO_ROOT_TRAVEL, limits });
  });
  const watched = { ...subject, soles: null };
  const watch = new PoseWatch(minute, watched, character.geometry);
  const step = quickest(() => {
    watch.measure(watched, NO_ROOT_TRAVEL, limits);
  });
  const carryAsSet = quickest(() => {
    carryTo(minute, subject, NO_ROOT_TRAVEL).carrier.carry(0, frames);
  });
  const scene = await loadWithThree(bytes);
  const meshes: SkinnedMesh[] = [];
  (scene.scene as Object3D).traverse((node) => {
    if (node instanceof SkinnedMesh) meshes.push(node);
  });
  const triangles = meshes.reduce((sum, { geometry }) => sum + (geometry.index?.count ?? 0) / 3, 0);
  const vertices = meshes.reduce((sum, { geometry }) => sum + geometry.attributes.position.count, 0);
  const bones = new Set(meshes.flatMap(({ skeleton }) => skeleton.bones)).size;
  const some = Math.min(frames, 120);
  const [point, turn] = [new Vector3(), new Quaternion()];
  const skin = quickest(() => {
    for (let frame = 0; frame < some; frame++) {
      for (const { skeleton } of meshes) for (const bone of skeleton.bones) bone.quaternion.multiply(turn);
      (scene.scene as Object3D).updateMatrixWorld(true);
      for (const mesh of meshes) {
        mesh.skeleton.update();
        const count = mesh.geometry.attributes.position.count;
        for (let vertex = 0; vertex < count; vertex++) mesh.getVertexPosition(vertex, point);
      }
    }
  });
  const skinAll = (skin / some) * frames;
  const text = (ms: number): string => `${ms.toFixed(0)} ms`;
  process.stdout.write(
    [
      `${frames} frames, ${bones} bones, ${vertices} vertices, ${triangles} triangles (${FILE})`,
      `three skins them in ${text(skinAll)} (${some} frames measured); all measures take ${text(judge)}: ${(judge / skinAll).toFixed(2)} of it (aim 1)`,
      `carrying alone takes ${text(carry)} (${text(carryAsSet)} with feet as the fit has them): carrying and all measures ${(judge / carry).toFixed(1)} times that`,
      `after a step of Posture soles, slides and room take ${text(step)}, carrying in it: ${(step / carry).toFixed(1)} times carrying alone (aim 2), ${(step / carryAsSet).toFixed(1)} times carrying as the fit has it`,
      '',
    ].join('\n'),
  );
}

void main();
