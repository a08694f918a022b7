import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import type { Bone, Rig } from '@/core/rig/rig';
import { median } from '../median';
import { makeBiped } from './make-rig';
import { TUNING_HABITS } from './naming';
import { Random } from './random';
import { TUNING_TOPOLOGIES } from './topologies';

const RUNS = 9;

/** A biped with as many bones as asked for: the rest are strands of cloth below its own bones, as costumes have them. */
export function rigOfSize(bones: number): Rig {
  const { rig } = makeBiped(new Random(11), TUNING_TOPOLOGIES[2], TUNING_HABITS[0]);
  const all: Bone[] = rig.bones.map((bone) => ({ ...bone }));
  const random = new Random(12);
  while (all.length < bones) {
    const holder = all[random.int(0, Math.min(rig.bones.length, all.length) - 1)];
    let above = holder;
    for (let segment = 0; segment < 5 && all.length < bones; segment++) {
      const place = [0, 1, 2].map(
        (axis) => above.restWorld[12 + axis] + random.range(-0.03, 0.03) - (axis === 1 ? 0.04 : 0),
      );
      const bone: Bone = {
        ...holder,
        index: all.length,
        nodeIndex: all.length,
        name: `strand_${all.length}_${segment}`,
        parent: above.index,
        restWorld: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...place, 1],
        skinWeight: 5,
        skinVertexCount: 5,
      };
      all.push(bone);
      above = bone;
    }
  }
  return { ...rig, bones: all };
}

/** Median match time against that of the smallest rig, and the exponent between neighbours (1 is linear). */
export function runGrowth(sizes: readonly number[]): { bones: number; ms: number; exponent: number | null }[] {
  const out: { bones: number; ms: number; exponent: number | null }[] = [];
  for (const bones of sizes) {
    const rig = rigOfSize(bones);
    const times = Array.from({ length: RUNS }, () => {
      const start = performance.now();
      matchBones(rig, QUAY);
      return performance.now() - start;
    });
    const ms = median(times);
    const before = out[out.length - 1];
    out.push({
      bones: rig.bones.length,
      ms,
      exponent: before ? Math.log(ms / before.ms) / Math.log(rig.bones.length / before.bones) : null,
    });
  }
  return out;
}
