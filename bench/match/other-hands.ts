import { existsSync } from 'node:fs';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import type { Rig } from '@/core/rig/rig';
import { BIPEDS, readBiped, withoutNames, type Biped } from '../../tests/third-party/bipeds';
import { MODELS } from '../../tests/third-party/catalogue';
import { posesOf } from '../../tests/third-party/motion-poses';

/** How skeletons by other hands were read, summed over poses. Answers on bones that the truth leaves open count nowhere. */
export interface OtherHands {
  readonly file: string;
  readonly pose: string;
  readonly isNamed: boolean;
  rigs: number;
  humanoids: number;
  roles: number;
  right: number;
  rightDoubtful: number;
  vacant: number;
  wrongDoubtful: number;
  wrongSure: number;
  extra: number;
}

const MOMENTS = 60;

/** Two-legged skeletons of Debian's assimp-testmodels at rest and in the midst of their motions, with their names and without; none where the package is missing. */
export async function runOtherHands(): Promise<OtherHands[]> {
  if (!existsSync(MODELS)) return [];
  const rows: OtherHands[] = [];
  for (const biped of BIPEDS) {
    const rig = await readBiped(biped);
    const poses = [
      { pose: 'rest', rigs: [rig] },
      ...(biped.file.endsWith('.bvh') ? [{ pose: `${MOMENTS} moments`, rigs: posesOf(biped.file, rig, MOMENTS) }] : []),
    ];
    for (const { pose, rigs } of poses) {
      for (const isNamed of [true, false]) {
        const row: OtherHands = {
          file: biped.file,
          pose,
          isNamed,
          rigs: 0,
          humanoids: 0,
          roles: 0,
          right: 0,
          rightDoubtful: 0,
          vacant: 0,
          wrongDoubtful: 0,
          wrongSure: 0,
          extra: 0,
        };
        for (const subject of rigs) count(row, isNamed ? subject : withoutNames(subject), biped);
        rows.push(row);
      }
    }
  }
  return rows;
}

function count(row: OtherHands, rig: Rig, { roles, open }: Biped): void {
  const { assignments, creature } = matchBones(rig, QUAY);
  row.rigs++;
  if (creature.isHumanoid) row.humanoids++;
  for (const [role, node] of Object.entries(roles)) {
    row.roles++;
    const answer = assignments[role];
    if (!answer) row.vacant++;
    else if (rig.bones[answer.boneIndex].nodeIndex !== node)
      row[answer.state === 'doubtful' ? 'wrongDoubtful' : 'wrongSure']++;
    else {
      row.right++;
      if (answer.state === 'doubtful') row.rightDoubtful++;
    }
  }
  row.extra += Object.values(assignments).filter(
    ({ role, boneIndex }) => !(role in roles) && !open.includes(rig.bones[boneIndex].nodeIndex),
  ).length;
}
