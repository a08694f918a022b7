import { Vector3, type BufferAttribute, type SkinnedMesh } from 'three';
import { QUAY } from '@/core/definition/quay';
import { initialFit, roleBonesOf } from '@/core/fit/fit';
import { ownNames } from '@/core/plan/plan-names';
import { planSkeleton } from '@/core/plan/plan-skeleton';
import { FILE_REST, withAligned } from '@/core/posture/posture';
import { writeHandoff } from '@/document/write-handoff';
import { runFirstPass } from '@/pipeline/match';
import { readGlb } from '@/pipeline/read-files';
import { driveTo, loadWithThree } from '../../tests/helpers/three-oracle';
import { median } from '../median';
import { largeCharacter } from './large-character';

/**
 * `npx tsx bench/posture/rebuild.ts [VERTICES]`: time to align a character and to bind all its vertices in the new pose
 * (positions, normals, tangents), as a ratio to three's own bone transform over the same vertices (positions alone), in
 * one run.
 */
const wanted = Number(process.argv[2] ?? 50_000);
const RUNS = 7;

const bytes = await largeCharacter(wanted);
const [aligning, ours, theirs]: [number[], number[], number[]] = [[], [], []];
let vertices = 0;
for (let run = 0; run < RUNS; run++) {
  const { rig, document } = await readGlb(bytes, 'large.glb');
  const first = runFirstPass(rig, QUAY);
  const input = { rig, definition: QUAY, ...first, roleBones: roleBonesOf(initialFit(first.match, QUAY)) };
  const start = performance.now();
  const posture = withAligned(input, FILE_REST, null);
  aligning.push(performance.now() - start);
  writeHandoff(document, rig, planSkeleton(rig, posture, first.normalisation), ownNames(rig));
  ours.push(performance.now() - start);

  const loaded = await loadWithThree(bytes);
  driveTo(loaded, rig, posture);
  const meshes: SkinnedMesh[] = [];
  loaded.scene.traverse((object) => {
    if ((object as SkinnedMesh).isSkinnedMesh) meshes.push(object as SkinnedMesh);
  });
  const point = new Vector3();
  vertices = 0;
  const begun = performance.now();
  for (const mesh of meshes) {
    mesh.skeleton.update();
    const positions = mesh.geometry.attributes.position as BufferAttribute;
    for (let vertex = 0; vertex < positions.count; vertex++) {
      point.fromBufferAttribute(positions, vertex);
      mesh.applyBoneTransform(vertex, point);
      vertices++;
    }
  }
  theirs.push(performance.now() - begun);
}
// The first runs warm the engine up.
const [only, a, b] = [aligning, ours, theirs].map((times) => median(times.slice(2)));
process.stdout.write(
  `${vertices} vertices: align and rebuild ${a.toFixed(0)} ms (${only.toFixed(0)} of them align), three's bone transform ${b.toFixed(0)} ms, ratio ${(a / b).toFixed(2)}\n`,
);
